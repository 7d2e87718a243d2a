// Of findBrokenBlobs and sweepBlobs; reads the table.
export const LIST_BLOB_OF_ATTACHMENT =
  'SELECT sha256, max(size_bytes) AS sizeBytes, min(name) AS name, min(item_key) AS key FROM attachment GROUP BY sha256 ORDER BY sha256'
