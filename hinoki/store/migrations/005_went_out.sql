-- What went out in which revision: one line for each finished export.
CREATE TABLE went_out (
    id         INTEGER PRIMARY KEY,
    project_id TEXT NOT NULL REFERENCES projects (id) ON DELETE CASCADE,
    revision   INTEGER NOT NULL,
    at         TEXT NOT NULL,
    wish       TEXT NOT NULL,  -- JSON, checked by hinoki.core.export.ExportWish
    held       TEXT NOT NULL   -- JSON, checked by hinoki.core.went_out.WentOut
) STRICT;

CREATE INDEX went_out_of_project ON went_out (project_id, at);
