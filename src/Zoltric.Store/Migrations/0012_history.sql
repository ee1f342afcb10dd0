-- What was changed on a job after it was written: by whom, when, what it was and what it is. Only ever added to.
CREATE TABLE job_change (
    id      INTEGER PRIMARY KEY,
    job_id  INTEGER NOT NULL REFERENCES job(id),
    what    TEXT NOT NULL,
    was     TEXT NOT NULL,
    now     TEXT NOT NULL,
    author  TEXT NOT NULL,
    at      TEXT NOT NULL
);
CREATE INDEX job_change_job ON job_change (job_id, id);
CREATE TRIGGER job_change_stays BEFORE UPDATE ON job_change BEGIN SELECT RAISE(ABORT, 'what was written down stays'); END;
CREATE TRIGGER job_change_kept BEFORE DELETE ON job_change BEGIN SELECT RAISE(ABORT, 'what was written down stays'); END;
