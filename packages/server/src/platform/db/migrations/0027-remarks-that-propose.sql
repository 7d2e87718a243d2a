-- What a remark proposes in place of its lines; null where it proposes nothing, empty where they are to go.
ALTER TABLE remark ADD COLUMN instead TEXT;
