-- When each person was first hit; of what came before nobody knows, so it counts from the beginning.
ALTER TABLE fault_person ADD COLUMN first_minute INTEGER NOT NULL DEFAULT 0;
