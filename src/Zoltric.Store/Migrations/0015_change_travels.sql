-- Changes go with the file of a job. Those that came in with one go again when it is taken out; our own stay for good.
ALTER TABLE job_change ADD COLUMN imported INTEGER NOT NULL DEFAULT 0;
DROP TRIGGER job_change_kept;
CREATE TRIGGER job_change_kept BEFORE DELETE ON job_change WHEN OLD.imported = 0 BEGIN SELECT RAISE(ABORT, 'what was written down stays'); END;
