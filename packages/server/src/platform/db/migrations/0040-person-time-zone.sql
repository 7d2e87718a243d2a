-- By which zone of the IANA database days begin for somebody; NULL is UTC.
ALTER TABLE person ADD COLUMN time_zone TEXT;
