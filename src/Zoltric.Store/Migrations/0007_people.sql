-- People of the workshop, the phones that were let in, and the programs that may call. A PIN is kept as the framework's password hash, a program's token as its SHA-256.
CREATE TABLE person (
    id            INTEGER PRIMARY KEY,
    name          TEXT NOT NULL,
    normal_name   TEXT NOT NULL UNIQUE,
    role          TEXT NOT NULL CHECK (role IN ('technician', 'lead', 'instructor', 'office')),
    pin_hash      TEXT,
    stamp         TEXT NOT NULL,
    failures      INTEGER NOT NULL DEFAULT 0,
    locked_until  TEXT,
    active        INTEGER NOT NULL DEFAULT 1,
    created_at    TEXT NOT NULL
);
CREATE TABLE phone (
    id          INTEGER PRIMARY KEY,
    name        TEXT NOT NULL,
    paired_at   TEXT NOT NULL,
    revoked_at  TEXT
);
CREATE TABLE program (
    id          INTEGER PRIMARY KEY,
    name        TEXT NOT NULL,
    person_id   INTEGER NOT NULL REFERENCES person(id),
    token_hash  TEXT NOT NULL UNIQUE,
    created_at  TEXT NOT NULL,
    revoked_at  TEXT
);
-- A lock that a lead took off for somebody else is an entry of its own: whose, why, and by whom.
CREATE TABLE safety_new (
    id          INTEGER PRIMARY KEY,
    job_id      INTEGER NOT NULL REFERENCES job(id),
    kind        TEXT NOT NULL CHECK (kind IN ('said', 'lock', 'unlock', 'forced', 'tester', 'dead', 'denied', 'energised')),
    item        TEXT NOT NULL,
    result      TEXT NOT NULL DEFAULT '',
    author      TEXT NOT NULL,
    at          TEXT NOT NULL,
    after_line  INTEGER NOT NULL DEFAULT 0,
    imported    INTEGER NOT NULL DEFAULT 0
);
INSERT INTO safety_new (id, job_id, kind, item, result, author, at, after_line, imported)
    SELECT id, job_id, kind, item, result, author, at, after_line, imported FROM safety;
DROP TABLE safety;
ALTER TABLE safety_new RENAME TO safety;
CREATE INDEX safety_job ON safety (job_id, id);
