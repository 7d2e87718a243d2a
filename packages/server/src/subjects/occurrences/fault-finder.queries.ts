// Of fault-finder.ts: all sites once at the start; then by place and by fingerprint.
export const FINDER_SITES = 'SELECT fingerprint, site FROM fault_site ORDER BY place, release, position'

export const FINDER_KEEP_SITE = `INSERT OR IGNORE INTO fault_site (place, release, position, file, fingerprint, site)
        VALUES (@place, @release, @position, @file, @fingerprint, @site)`

export const FINDER_FORGET_SITES = 'DELETE FROM fault_site WHERE fingerprint = @fingerprint AND release = @release'

export const FINDER_MOVE_SITE = `UPDATE OR REPLACE fault_site SET fingerprint = @to
        WHERE fingerprint = @from AND place = @place AND release = @release
        AND position = CAST(@position AS INTEGER) AND file = @file`

export const FINDER_HELD = 'SELECT fingerprint FROM group_word'

export const FINDER_IS_TAKEN = `SELECT 1 AS taken FROM fault_group WHERE fingerprint = @fingerprint UNION SELECT 1 FROM fault_site
        WHERE fingerprint = @fingerprint UNION SELECT 1 FROM group_alias WHERE fingerprint = @fingerprint LIMIT 1`

export const FINDER_KEEP_MAP = `INSERT OR REPLACE INTO source_map (service, release, file, map, received_at_ms)
        VALUES (@service, @release, @file, @map, @receivedAtMs)`

export const FINDER_MERGE_SITES = 'UPDATE OR REPLACE fault_site SET fingerprint = @into WHERE fingerprint = @from'

export const FINDER_SPLIT_SITE = `UPDATE OR REPLACE fault_site SET fingerprint = @to
        WHERE fingerprint = @from AND release = @release AND position = @position`
