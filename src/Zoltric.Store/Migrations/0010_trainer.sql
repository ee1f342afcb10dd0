-- Exercises of the trainer, each with the sheet of its machine as it was, and what learners did in them. The acts alone are kept; the rest follows from them.
CREATE TABLE exercise (
    id          INTEGER PRIMARY KEY,
    code        TEXT NOT NULL UNIQUE,
    title       TEXT NOT NULL,
    machine     TEXT NOT NULL,
    level       INTEGER NOT NULL,
    skills      TEXT NOT NULL,
    text        TEXT NOT NULL,
    sheet_text  TEXT NOT NULL,
    author      TEXT NOT NULL,
    at          TEXT NOT NULL
);
CREATE TABLE exercise_run (
    id           INTEGER PRIMARY KEY,
    exercise_id  INTEGER NOT NULL REFERENCES exercise(id),
    learner      TEXT NOT NULL,
    started_at   TEXT NOT NULL,
    ended_at     TEXT,
    right        INTEGER NOT NULL DEFAULT 0,
    stopped      INTEGER NOT NULL DEFAULT 0,
    minutes      REAL NOT NULL DEFAULT 0,
    in_vain      REAL NOT NULL DEFAULT 0,
    sure         REAL
);
CREATE INDEX exercise_run_learner ON exercise_run (learner, exercise_id);
CREATE TABLE exercise_act (
    id      INTEGER PRIMARY KEY,
    run_id  INTEGER NOT NULL REFERENCES exercise_run(id),
    text    TEXT NOT NULL,
    at      TEXT NOT NULL
);
CREATE INDEX exercise_act_run ON exercise_act (run_id, id);
