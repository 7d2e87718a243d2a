-- Branches that live as long as the main line, as maintenance lines do: a fix that stands on one of them is merged, too.
ALTER TABLE repository ADD COLUMN long_lines TEXT NOT NULL DEFAULT '[]';
