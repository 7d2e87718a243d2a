// Of listAgreements; by the primary key: those of a project.
export const LIST_AGREEMENT = 'SELECT * FROM agreement WHERE project = @project ORDER BY at_ms DESC, agreement_id'

// Of requireAgreement; by the primary key; one row.
export const GET_AGREEMENT = 'SELECT * FROM agreement WHERE project = @project AND agreement_id = @agreementId'

// Of agreementsWaitingFor; by agreement_open: tens of rows.
export const LIST_OPEN_AGREEMENT = `SELECT * FROM agreement WHERE ended_at_ms IS NULL
  AND EXISTS (SELECT 1 FROM json_each(people) WHERE value = @personId) ORDER BY at_ms`

// Of standing; by the primary key: those of one agreement.
export const LIST_VERDICT = `SELECT key, person_id AS personId, revision FROM agreement_verdict WHERE agreement_id = @agreementId`

// Of readAgreement; by agreement_remark_of: those of one agreement.
export const LIST_REMARK = `SELECT remark_id AS remarkId, key, quote, text, revision, by, at_ms AS atMs, settled_by AS settledBy
  FROM agreement_remark WHERE agreement_id = @agreementId ORDER BY at_ms, remark_id`

// Of settleRemark; by the primary key; one row.
export const GET_REMARK = 'SELECT key, by FROM agreement_remark WHERE remark_id = @remarkId AND agreement_id = @agreementId'

// Of toAgreement; by the primary key: the requirements of one agreement.
export const LIST_REVISION_OF_KEYS = `SELECT r.key, r.revision FROM json_each(@keys) k
  JOIN requirement r ON r.key = k.value WHERE r.retired_at_ms IS NULL`

// Of textsOf; by the primary key: the requirements of one agreement.
export const LIST_TEXT_OF_KEYS = `SELECT r.key, r.title, r.text, r.is_heading AS isHeading, r.revision FROM json_each(@keys) k
  JOIN requirement r ON r.key = k.value WHERE r.retired_at_ms IS NULL`

// Of readAgreement; by the primary key; one row.
export const GET_OLDER_TEXT = 'SELECT text FROM requirement_revision WHERE key = @key AND revision = @revision'
