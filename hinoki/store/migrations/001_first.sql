-- Projects, their revisions, the model files as they came, and the piece numbers once given.
CREATE TABLE projects (
    id         TEXT PRIMARY KEY,
    name       TEXT NOT NULL,
    created_at TEXT NOT NULL,
    updated_at TEXT NOT NULL,
    head       INTEGER NOT NULL DEFAULT 0,  -- the revision that is shown; undo and redo move it
    tip        INTEGER NOT NULL DEFAULT 0   -- the revision made last; redo leads there
) STRICT;

CREATE TABLE revisions (
    project_id TEXT NOT NULL REFERENCES projects (id) ON DELETE CASCADE,
    number     INTEGER NOT NULL,
    parent     INTEGER NOT NULL,
    label      TEXT NOT NULL,
    plan       TEXT NOT NULL,
    created_at TEXT NOT NULL,
    PRIMARY KEY (project_id, number)
) STRICT;

CREATE TABLE sources (
    sha256     TEXT PRIMARY KEY,
    file_name  TEXT NOT NULL,
    bytes      INTEGER NOT NULL,
    triangles  INTEGER NOT NULL,
    size_x     REAL NOT NULL,  -- in the file's own unit
    size_y     REAL NOT NULL,
    size_z     REAL NOT NULL,
    created_at TEXT NOT NULL
) STRICT;

CREATE TABLE source_chunks (
    sha256  TEXT NOT NULL REFERENCES sources (sha256) ON DELETE CASCADE,
    number  INTEGER NOT NULL,
    content BLOB NOT NULL,
    PRIMARY KEY (sha256, number)
) STRICT;

CREATE TABLE piece_numbers (
    project_id TEXT NOT NULL REFERENCES projects (id) ON DELETE CASCADE,
    piece_key  TEXT NOT NULL,
    number     INTEGER NOT NULL,
    PRIMARY KEY (project_id, piece_key)
) STRICT;
