-- What a form has sent, by the id of the form and all it said: the same one twice is done once.
CREATE TABLE submission (
    id  TEXT NOT NULL PRIMARY KEY,
    at  TEXT NOT NULL
) WITHOUT ROWID;
