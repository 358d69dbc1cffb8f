-- Who refers to which bytes. Foreign keys both ways: nothing that is referred to can be deleted, and nothing can
-- refer to bytes that are not there.
CREATE TABLE document_blob (
    project_id INTEGER NOT NULL,
    kind       TEXT NOT NULL,
    key        TEXT NOT NULL,
    sha256     TEXT NOT NULL REFERENCES blob (sha256),
    PRIMARY KEY (project_id, kind, key, sha256),
    FOREIGN KEY (project_id, kind, key) REFERENCES document (project_id, kind, key) ON DELETE CASCADE
) STRICT, WITHOUT ROWID;

CREATE TABLE forgotten_blob (
    project_id INTEGER NOT NULL,
    kind       TEXT NOT NULL,
    key        TEXT NOT NULL,
    sha256     TEXT NOT NULL REFERENCES blob (sha256),
    PRIMARY KEY (project_id, kind, key, sha256),
    FOREIGN KEY (project_id, kind, key) REFERENCES forgotten (project_id, kind, key) ON DELETE CASCADE
) STRICT, WITHOUT ROWID;

CREATE TABLE journal_blob (
    project_id INTEGER NOT NULL,
    seq        INTEGER NOT NULL,
    sha256     TEXT NOT NULL REFERENCES blob (sha256),
    PRIMARY KEY (project_id, seq, sha256),
    FOREIGN KEY (project_id, seq) REFERENCES journal (project_id, seq) ON DELETE CASCADE
) STRICT, WITHOUT ROWID;

CREATE TABLE library_blob (
    key    TEXT NOT NULL REFERENCES library_material (key) ON DELETE CASCADE,
    sha256 TEXT NOT NULL REFERENCES blob (sha256),
    PRIMARY KEY (key, sha256)
) STRICT, WITHOUT ROWID;

CREATE INDEX document_blob_sha256 ON document_blob (sha256);
CREATE INDEX forgotten_blob_sha256 ON forgotten_blob (sha256);
CREATE INDEX journal_blob_sha256 ON journal_blob (sha256);
CREATE INDEX library_blob_sha256 ON library_blob (sha256);
CREATE INDEX project_blob_sha256 ON project_blob (sha256);
CREATE INDEX project_mesh ON project (mesh);

-- project_blob: from here on what the model in force consists of; earlier ones are the journal's.
CREATE VIEW blob_use AS
    SELECT sha256, 'model of project ' || project_id AS used_by FROM project_blob
    UNION ALL SELECT mesh, 'model of project ' || id FROM project
    UNION ALL SELECT sha256, kind || ' ' || key || ' of project ' || project_id FROM document_blob
    UNION ALL SELECT sha256, 'forgotten ' || kind || ' ' || key || ' of project ' || project_id FROM forgotten_blob
    UNION ALL SELECT sha256, 'edit ' || seq || ' of project ' || project_id FROM journal_blob
    UNION ALL SELECT sha256, 'material ' || key || ' of the library' FROM library_blob;

-- The number of the newest project there has ever been: a page of a deleted one must not come to show another.
CREATE TABLE numbered (
    last_project INTEGER NOT NULL
) STRICT;

INSERT INTO numbered SELECT coalesce(max(id), 0) FROM project;

-- What bytes are is read off them, or belongs to their use: the same image can be a model's file too.
ALTER TABLE blob DROP COLUMN mime;
