// Of listTerms; by the primary key: those of a project.
export const LIST_TERM = 'SELECT term, meaning, instead, by, at_ms AS atMs FROM glossary_term WHERE project = @project ORDER BY term'

// Of setTerm, removeTerm; by the primary key; one row.
export const GET_TERM = 'SELECT term, meaning, instead FROM glossary_term WHERE project = @project AND term = @term'
