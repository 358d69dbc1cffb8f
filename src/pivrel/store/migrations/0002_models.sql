-- Every mesh and original file that a project has ever had: undo may bring an older one back.
CREATE TABLE project_blob (
    project_id INTEGER NOT NULL REFERENCES project (id) ON DELETE CASCADE,
    sha256     TEXT NOT NULL REFERENCES blob (sha256),
    PRIMARY KEY (project_id, sha256)
) STRICT;

INSERT INTO project_blob (project_id, sha256) SELECT id, mesh FROM project;

-- Named picks and saved views are documents too.
CREATE TABLE document_new (
    project_id INTEGER NOT NULL REFERENCES project (id) ON DELETE CASCADE,
    kind       TEXT NOT NULL CHECK (kind IN ('finish', 'material', 'pick_set', 'view')),
    key        TEXT NOT NULL,
    position   INTEGER NOT NULL,
    body       TEXT NOT NULL,
    PRIMARY KEY (project_id, kind, key)
) STRICT;

INSERT INTO document_new SELECT project_id, kind, key, position, body FROM document;
DROP TABLE document;
ALTER TABLE document_new RENAME TO document;
