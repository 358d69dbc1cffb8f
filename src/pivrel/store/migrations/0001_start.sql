-- Bytes by their content: meshes and images, stored once however often they are used.
CREATE TABLE blob (
    sha256 TEXT PRIMARY KEY,
    mime   TEXT NOT NULL,
    data   BLOB NOT NULL
) STRICT;

-- The library that comes with Pivrel. body: name, repeat_mm, grain_deg, metallic, use, images.
CREATE TABLE library_material (
    key      TEXT PRIMARY KEY,
    position INTEGER NOT NULL,
    body     TEXT NOT NULL
) STRICT;

-- model: file name, unit, up, what the import found. cursor: the last journal row that is in force.
CREATE TABLE project (
    id         INTEGER PRIMARY KEY,
    name       TEXT NOT NULL,
    demo       TEXT UNIQUE,
    mesh       TEXT NOT NULL REFERENCES blob (sha256),
    model      TEXT NOT NULL,
    revision   INTEGER NOT NULL DEFAULT 0,
    cursor     INTEGER NOT NULL DEFAULT 0,
    created_at TEXT NOT NULL,
    used_at    TEXT NOT NULL
) STRICT;

-- What a project consists of and what every edit changes: its finishes and its materials.
CREATE TABLE document (
    project_id INTEGER NOT NULL REFERENCES project (id) ON DELETE CASCADE,
    kind       TEXT NOT NULL CHECK (kind IN ('finish', 'material')),
    key        TEXT NOT NULL,
    position   INTEGER NOT NULL,
    body       TEXT NOT NULL,
    PRIMARY KEY (project_id, kind, key)
) STRICT;

-- One row an edit. changes: [{kind, key, before, after}], so that each row is its own inverse.
CREATE TABLE journal (
    project_id INTEGER NOT NULL REFERENCES project (id) ON DELETE CASCADE,
    seq        INTEGER NOT NULL,
    label      TEXT NOT NULL,
    changes    TEXT NOT NULL,
    at         TEXT NOT NULL,
    PRIMARY KEY (project_id, seq)
) STRICT;

-- Every write, undo and redo included: what an outdated writer is told.
CREATE TABLE revision (
    project_id INTEGER NOT NULL REFERENCES project (id) ON DELETE CASCADE,
    number     INTEGER NOT NULL,
    label      TEXT NOT NULL,
    at         TEXT NOT NULL,
    PRIMARY KEY (project_id, number)
) STRICT;
