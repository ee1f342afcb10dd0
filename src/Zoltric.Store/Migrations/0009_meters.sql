-- What a meter on a lead gave: its name, where its dial stood, and how far its figure moved while it was taken, in the reading's unit. Nothing for what was typed.
ALTER TABLE line ADD COLUMN meter TEXT;
ALTER TABLE line ADD COLUMN dial TEXT;
ALTER TABLE line ADD COLUMN span REAL;
-- What an instrument wrote over time, as its file came, compressed; how the machine stood; what each channel lay on and by what it is multiplied, as JSON.
CREATE TABLE capture (
    id        INTEGER PRIMARY KEY,
    job_id    INTEGER NOT NULL REFERENCES job(id),
    name      TEXT NOT NULL,
    setup     TEXT NOT NULL DEFAULT '',
    channels  TEXT NOT NULL DEFAULT '[]',
    data      BLOB NOT NULL,
    author    TEXT NOT NULL,
    at        TEXT NOT NULL
);
CREATE INDEX capture_job ON capture (job_id, id);
