-- What a closed job's report said, for each of its readers: written once.
CREATE TABLE report (
    job_id   INTEGER NOT NULL REFERENCES job(id),
    reader   TEXT NOT NULL CHECK (reader IN ('workshop', 'customer')),
    html     TEXT NOT NULL,
    version  TEXT NOT NULL,
    at       TEXT NOT NULL,
    PRIMARY KEY (job_id, reader)
);
