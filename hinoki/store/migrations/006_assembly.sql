-- Steps ticked while building, and photographs at steps, by the unit that a step moves.
CREATE TABLE ticked_steps (
    project_id TEXT NOT NULL REFERENCES projects (id) ON DELETE CASCADE,
    unit       TEXT NOT NULL,
    at         TEXT NOT NULL,
    PRIMARY KEY (project_id, unit)
) STRICT, WITHOUT ROWID;

CREATE TABLE step_photos (
    project_id TEXT NOT NULL REFERENCES projects (id) ON DELETE CASCADE,
    unit       TEXT NOT NULL,
    at         TEXT NOT NULL,
    sha256     TEXT NOT NULL,
    jpeg       BLOB NOT NULL,
    PRIMARY KEY (project_id, unit)
) STRICT;
