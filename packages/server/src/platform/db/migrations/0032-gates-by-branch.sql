-- What has to hold before a merge, by patterns of the branch that it goes to; the gates of before hold for every branch.
CREATE TABLE merge_gate_rule (
  repository TEXT NOT NULL, branches TEXT NOT NULL, gates TEXT NOT NULL, PRIMARY KEY (repository, branches)
) STRICT, WITHOUT ROWID;
INSERT INTO merge_gate_rule (repository, branches, gates)
  SELECT repository, '*', json_object('agreements', agreements, 'needsSettled', json(iif(needs_settled, 'true', 'false')),
    'needsItem', json(iif(needs_item, 'true', 'false'))) FROM merge_gates;
DROP TABLE merge_gates;
-- Whether a pull request is not ready yet.
ALTER TABLE pull_request ADD COLUMN is_draft INTEGER NOT NULL DEFAULT 0;
