-- A line that came from a screen carries the token of the page it was given on: the same one twice is one line.
ALTER TABLE line ADD COLUMN token TEXT;
CREATE UNIQUE INDEX line_once ON line (job_id, token) WHERE token IS NOT NULL;
