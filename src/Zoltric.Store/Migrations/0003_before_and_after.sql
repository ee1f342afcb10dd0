-- Before the trace: what was asked, what codes there were, what was said and proved of safety. After it: parts, how it was mended, who took over.
CREATE TABLE intake (
    job_id      INTEGER PRIMARY KEY REFERENCES job(id),
    hours       TEXT NOT NULL DEFAULT '',
    since       TEXT NOT NULL DEFAULT '',
    conditions  TEXT NOT NULL DEFAULT '',
    sounds      TEXT NOT NULL DEFAULT '',
    author      TEXT NOT NULL,
    at          TEXT NOT NULL
);

CREATE TABLE code (
    id          INTEGER PRIMARY KEY,
    job_id      INTEGER NOT NULL REFERENCES job(id),
    number      TEXT NOT NULL,
    status      TEXT NOT NULL CHECK (status IN ('active', 'stored', 'absent')),
    count       INTEGER,
    author      TEXT NOT NULL,
    at          TEXT NOT NULL,
    UNIQUE (job_id, number)
);

-- said: a caution understood. lock: a lock put on, by its number. tester: shown live before and after. dead: volts read between two points.
CREATE TABLE safety (
    id          INTEGER PRIMARY KEY,
    job_id      INTEGER NOT NULL REFERENCES job(id),
    kind        TEXT NOT NULL CHECK (kind IN ('said', 'lock', 'unlock', 'tester', 'dead')),
    item        TEXT NOT NULL,
    result      TEXT NOT NULL DEFAULT '',
    author      TEXT NOT NULL,
    at          TEXT NOT NULL
);
CREATE INDEX safety_job ON safety (job_id, id);

CREATE TABLE part_used (
    id          INTEGER PRIMARY KEY,
    job_id      INTEGER NOT NULL REFERENCES job(id),
    name        TEXT NOT NULL,
    price       REAL,
    needed      INTEGER NOT NULL,
    author      TEXT NOT NULL,
    at          TEXT NOT NULL
);
CREATE INDEX part_used_job ON part_used (job_id, id);

CREATE TABLE handover (
    id          INTEGER PRIMARY KEY,
    job_id      INTEGER NOT NULL REFERENCES job(id),
    from_author TEXT NOT NULL,
    author      TEXT NOT NULL,
    repeats     TEXT NOT NULL DEFAULT '',
    at          TEXT NOT NULL
);
CREATE INDEX handover_job ON handover (job_id, id);

-- A picture of a place on a machine: how to get there.
CREATE TABLE place_picture (
    id          INTEGER PRIMARY KEY,
    machine_id  INTEGER NOT NULL REFERENCES machine(id),
    place       TEXT NOT NULL,
    type        TEXT NOT NULL,
    data        BLOB NOT NULL,
    author      TEXT NOT NULL,
    at          TEXT NOT NULL,
    UNIQUE (machine_id, place)
);

CREATE TABLE setting (
    name        TEXT PRIMARY KEY,
    value       TEXT NOT NULL
);

-- What the odds of a job had learnt when it was opened; who has it in hand; whether it came in as a file.
ALTER TABLE job ADD COLUMN odds TEXT NOT NULL DEFAULT '';
ALTER TABLE job ADD COLUMN holder TEXT NOT NULL DEFAULT '';
ALTER TABLE job ADD COLUMN imported INTEGER NOT NULL DEFAULT 0;
UPDATE job SET holder = author;

ALTER TABLE finding ADD COLUMN method TEXT NOT NULL DEFAULT '';
ALTER TABLE finding ADD COLUMN labour REAL;
ALTER TABLE finding ADD COLUMN rate REAL;
ALTER TABLE attachment ADD COLUMN stage TEXT NOT NULL DEFAULT '';

-- More kinds of things to be shown than the first list had.
CREATE TABLE verification_new (
    id          INTEGER PRIMARY KEY,
    job_id      INTEGER NOT NULL REFERENCES job(id),
    item        TEXT NOT NULL,
    kind        TEXT NOT NULL CHECK (kind IN ('reading', 'drop', 'function', 'unloaded', 'interlock', 'codes', 'leads', 'bench', 'tag')),
    result      TEXT NOT NULL,
    passed      INTEGER NOT NULL,
    author      TEXT NOT NULL,
    at          TEXT NOT NULL,
    UNIQUE (job_id, item)
);
INSERT INTO verification_new SELECT id, job_id, item, kind, result, passed, author, at FROM verification;
DROP TABLE verification;
ALTER TABLE verification_new RENAME TO verification;
