// Of findBrokenBlobs and sweepBlobs; reads the tables of all that is kept by content.
export const LIST_BLOB_OF_ATTACHMENT = `SELECT sha256, max(size_bytes) AS sizeBytes, min(name) AS name, min(of) AS key
    FROM (SELECT sha256, size_bytes, name, item_key AS of FROM attachment UNION ALL
      SELECT sha256, size_bytes, name, 'a text of ' || project FROM kept_picture UNION ALL
      SELECT sha256, size_bytes, name, 'build ' || repository || '/' || build FROM build_file WHERE sha256 IS NOT NULL AND url IS NULL)
    GROUP BY sha256 ORDER BY sha256`
