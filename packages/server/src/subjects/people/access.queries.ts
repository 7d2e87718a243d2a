// Of rolesOfPerson; by membership_person.
export const LIST_MEMBERSHIP_BY_PERSON_ID = 'SELECT project, role FROM membership WHERE person_id = @personId'
