// Of readLocks; by the primary key; one row.
export const HAS_READ_LOCKS = 'SELECT 1 FROM release_locks_read WHERE service = @service AND release = @release AND sha = @sha'

// Of readLocks; by the primary key; at most one row for each lock file asked about.
export const LIST_KNOWN_LOCKS = 'SELECT lock FROM lock_file WHERE lock IN (SELECT value FROM json_each(@locks))'

// Of readLocks; by the primary key.
export const INSERT_LOCK_FILE = 'INSERT OR REPLACE INTO lock_file (lock, is_readable) VALUES (@lock, @isReadable)'

// Of readLocks; by the primary key; one row for each package, all of a file at once.
export const INSERT_LOCK_PACKAGES = `INSERT OR IGNORE INTO lock_package (lock, type, name, version)
  SELECT @lock, value ->> 'type', value ->> 'name', value ->> 'version' FROM json_each(@packages)`

// Of readLocks; by the primary key.
export const DELETE_RELEASE_LOCKS = 'DELETE FROM release_lock WHERE service = @service AND release = @release'

// Of readLocks; by the primary key.
export const INSERT_RELEASE_LOCK = 'INSERT INTO release_lock (service, release, path, lock) VALUES (@service, @release, @path, @lock)'

// Of readLocks; by the primary key.
export const INSERT_LOCKS_READ = 'INSERT OR REPLACE INTO release_locks_read (service, release, sha) VALUES (@service, @release, @sha)'

// Of readLocks; by the primary key; one row.
export const GET_FOLDER_OF_SERVICE = 'SELECT path_prefix AS folder FROM service WHERE name = @service'

// Of listReleasePackages; by the primary key; at most 60 rows.
export const LIST_LOCKS_OF_RELEASE = `SELECT l.path, f.is_readable AS isReadable, count(p.name) AS packages,
  coalesce(min(p.type), '') AS type
  FROM release_lock l JOIN lock_file f ON f.lock = l.lock LEFT JOIN lock_package p ON p.lock = l.lock
  WHERE l.service = @service AND l.release = @release GROUP BY l.path ORDER BY l.path`

// Of listReleasePackages; by the primary key; one row.
export const GET_BILL = `SELECT b.at_ms AS atMs, b.by, count(p.name) AS packages FROM release_bill b
  LEFT JOIN release_bill_package p ON p.service = b.service AND p.release = b.release
  WHERE b.service = @service AND b.release = @release GROUP BY b.service`

// Of listReleasePackages, packagesOf; by the primary keys; sorts the packages of one release.
export const LIST_PACKAGES_OF_RELEASE = `SELECT type, name, version,
    json_group_array(path) FILTER (WHERE path IS NOT NULL) AS files, max(is_billed) AS isBilled
  FROM (
    SELECT p.type, p.name, p.version, l.path, 0 AS is_billed FROM release_lock l JOIN lock_package p ON p.lock = l.lock
      WHERE l.service = @service AND l.release = @release
    UNION ALL
    SELECT type, name, version, NULL, 1 FROM release_bill_package WHERE service = @service AND release = @release
  )
  WHERE (@q = '' OR instr(lower(name), lower(@q)) > 0) AND (@name IS NULL OR (name, version, type) > (@name, @version, @type))
  GROUP BY name, version, type ORDER BY name, version, type LIMIT @limit`

// Of findPackage; reads the releases of the services that one may see; those never tried before those that git could not tell of.
export const LIST_UNREAD_RELEASES = `SELECT r.service, r.name, r.sha, r.at_ms, s.repository FROM release r JOIN service s
  ON s.name = r.service
  LEFT JOIN release_locks_read k ON k.service = r.service AND k.release = r.name
  WHERE k.sha IS NOT r.sha AND r.service NOT IN (SELECT value FROM json_each(@hidden))
  ORDER BY k.sha IS '', r.at_ms DESC, r.service, r.name`

const HELD = `
  SELECT l.service, l.release, p.version FROM lock_package p JOIN release_lock l ON l.lock = p.lock WHERE p.name = @asked
  UNION SELECT service, release, version FROM release_bill_package WHERE name = @asked`

// Of findPackage; by lock_package_name and release_bill_package_name; one row for each release that holds the package.
export const LIST_RELEASES_WITH_PACKAGE = `SELECT h.service, h.release, r.at_ms AS atMs, json_group_array(h.version) AS versions
  FROM (${HELD}) h JOIN release r ON r.service = h.service AND r.name = h.release
  WHERE (@version IS NULL OR h.version = @version) AND h.service NOT IN (SELECT value FROM json_each(@hidden))
    AND (@atMs IS NULL OR (r.at_ms, h.service, h.release) < (@atMs, @service, @release))
  GROUP BY h.service, h.release ORDER BY r.at_ms DESC, h.service DESC, h.release DESC LIMIT @limit`

// Of findPackage; by the same; the distinct versions.
export const LIST_VERSIONS_OF_PACKAGE = `SELECT DISTINCT h.version FROM (${HELD}) h
  JOIN release r ON r.service = h.service AND r.name = h.release
  WHERE h.service NOT IN (SELECT value FROM json_each(@hidden)) LIMIT 500`
