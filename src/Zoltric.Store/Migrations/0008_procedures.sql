-- Procedures as text, each for a machine or for none, and how far each was run in a job. A run keeps the text that it was run by.
CREATE TABLE procedure (
    id          INTEGER PRIMARY KEY,
    machine_id  INTEGER REFERENCES machine(id),
    title       TEXT NOT NULL,
    text        TEXT NOT NULL,
    author      TEXT NOT NULL,
    at          TEXT NOT NULL
);
CREATE INDEX procedure_machine ON procedure (machine_id, id);
CREATE TABLE procedure_run (
    id           INTEGER PRIMARY KEY,
    job_id       INTEGER NOT NULL REFERENCES job(id),
    procedure_id INTEGER NOT NULL REFERENCES procedure(id),
    text         TEXT NOT NULL,
    UNIQUE (job_id, procedure_id)
);
CREATE TABLE procedure_answer (
    id          INTEGER PRIMARY KEY,
    run_id      INTEGER NOT NULL REFERENCES procedure_run(id),
    step        TEXT NOT NULL,
    answer      TEXT NOT NULL,
    author      TEXT NOT NULL,
    at          TEXT NOT NULL,
    taken_back  INTEGER NOT NULL DEFAULT 0
);
CREATE INDEX procedure_answer_run ON procedure_answer (run_id, id);
