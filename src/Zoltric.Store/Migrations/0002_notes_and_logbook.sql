-- What is written beside the readings, and pictures: before, after, the plate, the worn part.
CREATE TABLE note (
    id          INTEGER PRIMARY KEY,
    job_id      INTEGER NOT NULL REFERENCES job(id),
    text        TEXT NOT NULL,
    author      TEXT NOT NULL,
    at          TEXT NOT NULL
);
CREATE INDEX note_job ON note (job_id, id);

CREATE TABLE attachment (
    id          INTEGER PRIMARY KEY,
    job_id      INTEGER NOT NULL REFERENCES job(id),
    name        TEXT NOT NULL,
    type        TEXT NOT NULL,
    caption     TEXT NOT NULL DEFAULT '',
    data        BLOB NOT NULL,
    author      TEXT NOT NULL,
    at          TEXT NOT NULL
);
CREATE INDEX attachment_job ON attachment (job_id, id);

-- Full text of the closed jobs; filled when a job is closed and made again from the tables when asked.
CREATE VIRTUAL TABLE logbook USING fts5 (machine, complaint, fault, cause, repair, parts, readings, notes, content = '', contentless_delete = 1);
