-- Views and kept picks change nothing of the result, so they stand outside the journal: aside counts their changes,
-- and what was forgotten can be taken back.
ALTER TABLE project ADD COLUMN aside INTEGER NOT NULL DEFAULT 0;

CREATE TABLE forgotten (
    project_id INTEGER NOT NULL REFERENCES project (id) ON DELETE CASCADE,
    kind       TEXT NOT NULL CHECK (kind IN ('pick_set', 'view')),
    key        TEXT NOT NULL,
    position   INTEGER NOT NULL,
    body       TEXT NOT NULL,
    PRIMARY KEY (project_id, kind, key)
) STRICT;

-- The picture of a project as it was last drawn, and what of.
CREATE TABLE project_picture (
    project_id INTEGER PRIMARY KEY REFERENCES project (id) ON DELETE CASCADE,
    revision   INTEGER NOT NULL,
    data       BLOB NOT NULL
) STRICT;
