-- What a closed job taught, worked out once: its kind of fault, and what share the base odds of its sheet give each kind. Both can be
-- made again from the job and its sheet, and are when a newer program may judge them otherwise.
CREATE TABLE learnt_share (
    sheet_id    INTEGER NOT NULL REFERENCES sheet(id) ON DELETE CASCADE,
    kind        TEXT NOT NULL,
    share       REAL NOT NULL,
    PRIMARY KEY (sheet_id, kind)
) WITHOUT ROWID;

-- Kind is empty where the finding names nothing on the sheet.
CREATE TABLE learnt_job (
    job_id      INTEGER PRIMARY KEY REFERENCES job(id) ON DELETE CASCADE,
    kind        TEXT NOT NULL
);

-- Names of a sheet's functions, one a line; null until they were read from its text. Lists of machines do not read sheets.
ALTER TABLE sheet ADD COLUMN functions TEXT;

CREATE INDEX job_machine ON job (machine_id, id);
