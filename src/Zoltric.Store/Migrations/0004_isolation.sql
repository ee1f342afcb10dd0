-- Isolation as a state: each entry knows the last line that stood before it, so that lines and entries have one order. A part that a person denies to be a safety part,
-- and a remark that energy is back, are entries too. What an imported file brings is history and never in force.
CREATE TABLE safety_new (
    id          INTEGER PRIMARY KEY,
    job_id      INTEGER NOT NULL REFERENCES job(id),
    kind        TEXT NOT NULL CHECK (kind IN ('said', 'lock', 'unlock', 'tester', 'dead', 'denied', 'energised')),
    item        TEXT NOT NULL,
    result      TEXT NOT NULL DEFAULT '',
    author      TEXT NOT NULL,
    at          TEXT NOT NULL,
    after_line  INTEGER NOT NULL DEFAULT 0,
    imported    INTEGER NOT NULL DEFAULT 0
);
INSERT INTO safety_new (id, job_id, kind, item, result, author, at, after_line, imported)
    SELECT s.id, s.job_id, s.kind, s.item, s.result, s.author, s.at,
        (SELECT COALESCE(MAX(l.id), 0) FROM line l WHERE l.job_id = s.job_id AND l.at <= s.at), j.imported
    FROM safety s JOIN job j ON j.id = s.job_id;
DROP TABLE safety;
ALTER TABLE safety_new RENAME TO safety;
CREATE INDEX safety_job ON safety (job_id, id);
