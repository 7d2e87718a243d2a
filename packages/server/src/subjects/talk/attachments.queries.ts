export const COLUMNS = 'attachment_id, item_key, name, media_type, size_bytes, sha256, has_thumbnail, by, at_ms'

// Of listAttachments; at most 500 rows.
export const LIST_ATTACHMENT_BY_KEY =
  `SELECT ${COLUMNS} FROM attachment WHERE item_key = @key AND removed_at_ms IS NULL ORDER BY at_ms, attachment_id LIMIT 500` as const

// Of openKeptPicture; by the primary key; one row.
export const GET_KEPT_PICTURE =
  'SELECT name, media_type AS mediaType, sha256 FROM kept_picture WHERE picture_id = @pictureId AND project = @project'

// Of openAttachment; one row.
export const GET_ATTACHMENT_BY_ATTACHMENT_ID =
  `SELECT ${COLUMNS} FROM attachment WHERE attachment_id = @attachmentId AND removed_at_ms IS NULL` as const
