-- Which build left a file that somebody holds in their hands, and which releases its commit is.
CREATE INDEX build_file_sha256 ON build_file (sha256) WHERE sha256 IS NOT NULL;
CREATE INDEX release_sha ON release (sha);
