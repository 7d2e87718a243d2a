-- Who reacted to a remark on a change or on a commit, or to an answer.
CREATE TABLE remark_reaction (
  remark_id TEXT NOT NULL, person_id TEXT NOT NULL, reaction TEXT NOT NULL, PRIMARY KEY (remark_id, person_id, reaction)
) STRICT, WITHOUT ROWID;
