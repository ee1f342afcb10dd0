-- A job file that somebody sent waits here until somebody has seen what it brings. A job that came in says from whom, and what it was like then.
CREATE TABLE waiting_file (
    id      TEXT PRIMARY KEY,
    name    TEXT NOT NULL,
    data    BLOB NOT NULL,
    author  TEXT NOT NULL,
    at      TEXT NOT NULL
);
CREATE TABLE brought (
    job_id   INTEGER PRIMARY KEY REFERENCES job(id),
    name     TEXT NOT NULL,
    author   TEXT NOT NULL,
    at       TEXT NOT NULL,
    hash     TEXT NOT NULL
);
-- What was taken out again stays written here: which file, who brought it and who took it out.
CREATE TABLE taken_out (
    id       INTEGER PRIMARY KEY,
    machine  TEXT NOT NULL,
    complaint TEXT NOT NULL,
    name     TEXT NOT NULL,
    brought_by TEXT NOT NULL,
    author   TEXT NOT NULL,
    at       TEXT NOT NULL
);
