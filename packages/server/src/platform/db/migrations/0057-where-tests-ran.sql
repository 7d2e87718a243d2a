-- Where a test stands, on what machine it ran, and as the how-manieth of its report; null where its report did not say.
ALTER TABLE test_result ADD COLUMN file TEXT;
ALTER TABLE test_result ADD COLUMN host TEXT;
ALTER TABLE test_result ADD COLUMN position INTEGER;
-- Few tests are flaky, and a trend counts them for a hundred builds.
CREATE INDEX test_result_flaky ON test_result (repository, build) WHERE outcome = 'flaky';
