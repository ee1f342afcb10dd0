CREATE TABLE machine (
    id          INTEGER PRIMARY KEY,
    name        TEXT NOT NULL UNIQUE,
    family      TEXT,
    site        TEXT NOT NULL DEFAULT ''
);

-- A sheet is never changed: a correction is a new version, and a job keeps the one it was judged with.
CREATE TABLE sheet (
    id          INTEGER PRIMARY KEY,
    machine_id  INTEGER NOT NULL REFERENCES machine(id),
    version     INTEGER NOT NULL,
    text        TEXT NOT NULL,
    created_at  TEXT NOT NULL,
    UNIQUE (machine_id, version)
);

CREATE TABLE job (
    id          INTEGER PRIMARY KEY,
    machine_id  INTEGER NOT NULL REFERENCES machine(id),
    sheet_id    INTEGER NOT NULL REFERENCES sheet(id),
    complaint   TEXT NOT NULL,
    strategy    TEXT NOT NULL DEFAULT 'best',
    meter       TEXT NOT NULL DEFAULT '0.5%',
    rules       TEXT NOT NULL,
    author      TEXT NOT NULL,
    opened_at   TEXT NOT NULL,
    closed_at   TEXT,
    outcome     TEXT
);

-- One reading line. Lines are struck, never deleted. The verdict is the one shown when the line was written.
CREATE TABLE line (
    id          INTEGER PRIMARY KEY,
    job_id      INTEGER NOT NULL REFERENCES job(id),
    phase       TEXT NOT NULL CHECK (phase IN ('trace', 'verify')),
    text        TEXT NOT NULL,
    author      TEXT NOT NULL,
    at          TEXT NOT NULL,
    minutes     REAL NOT NULL DEFAULT 0,
    struck      INTEGER NOT NULL DEFAULT 0,
    judgement   TEXT,
    low         REAL,
    high        REAL,
    meaning     TEXT
);
CREATE INDEX line_job ON line (job_id, id);

-- What cannot be done on this job: a place out of reach, a setup that cannot be run.
CREATE TABLE job_limit (
    job_id      INTEGER NOT NULL REFERENCES job(id),
    kind        TEXT NOT NULL CHECK (kind IN ('place', 'setup')),
    what        TEXT NOT NULL,
    PRIMARY KEY (job_id, kind, what)
);

CREATE TABLE finding (
    job_id      INTEGER PRIMARY KEY REFERENCES job(id),
    fault       TEXT NOT NULL,
    share       REAL NOT NULL,
    proof       TEXT NOT NULL,
    cause       TEXT NOT NULL,
    repair      TEXT NOT NULL,
    parts       TEXT NOT NULL,
    author      TEXT NOT NULL,
    at          TEXT NOT NULL
);

-- What must be shown after the repair. Items come from the sheet and from the reading that was bad.
CREATE TABLE verification (
    id          INTEGER PRIMARY KEY,
    job_id      INTEGER NOT NULL REFERENCES job(id),
    item        TEXT NOT NULL,
    kind        TEXT NOT NULL CHECK (kind IN ('reading', 'function', 'interlock', 'leads')),
    result      TEXT NOT NULL,
    passed      INTEGER NOT NULL,
    author      TEXT NOT NULL,
    at          TEXT NOT NULL,
    UNIQUE (job_id, item)
);
