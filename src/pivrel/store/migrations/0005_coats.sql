-- Coats that an artist keeps, to lay them over other finishes and in other projects.
CREATE TABLE coat_set (
    name TEXT PRIMARY KEY,
    body TEXT NOT NULL
) STRICT, WITHOUT ROWID;
