-- The print log: printers Hinoki can send to, spools, prints with every body on their beds, photographs, fit answers.
CREATE TABLE machines (
    id         TEXT PRIMARY KEY,
    body       TEXT NOT NULL,  -- JSON, checked by hinoki.machines.base.Machine
    updated_at TEXT NOT NULL
) STRICT;

CREATE TABLE spools (
    id          INTEGER PRIMARY KEY,
    material_id TEXT NOT NULL REFERENCES materials (id) ON DELETE CASCADE,
    name        TEXT NOT NULL,
    full_g      REAL NOT NULL CHECK (full_g >= 0),
    left_g      REAL NOT NULL CHECK (left_g >= 0),
    updated_at  TEXT NOT NULL
) STRICT;

CREATE TABLE prints (
    id         TEXT PRIMARY KEY,  -- also what the printer knows it by
    project_id TEXT NOT NULL REFERENCES projects (id) ON DELETE CASCADE,
    number     INTEGER NOT NULL,  -- counts the prints of a project
    revision   INTEGER NOT NULL,
    state      TEXT NOT NULL CHECK (state IN ('sending', 'sent', 'printing', 'paused', 'done', 'stopped', 'broke off', 'refused')),
    machine_id TEXT,
    machine    TEXT NOT NULL,
    spool_id   INTEGER REFERENCES spools (id) ON DELETE SET NULL,
    batch      TEXT NOT NULL,     -- JSON, checked by hinoki.core.printlog.records.PreparedBatch
    printer_id  TEXT NOT NULL,    -- these four as in batch, so that all prints can be learned from without reading it
    material_id TEXT NOT NULL,
    est_minutes REAL NOT NULL,
    est_grams   REAL NOT NULL,
    sent_at    TEXT NOT NULL,     -- ISO 8601, UTC, as all times here
    begun_at   TEXT,
    ended_at   TEXT,
    minutes    REAL,              -- measured
    grams      REAL,              -- measured
    progress   TEXT NOT NULL,     -- JSON, checked by hinoki.core.printlog.records.Progress
    gone_since TEXT,
    why        TEXT NOT NULL DEFAULT '',
    note       TEXT NOT NULL DEFAULT '',
    UNIQUE (project_id, number)
) STRICT;

CREATE INDEX prints_taught ON prints (state, printer_id, material_id, ended_at DESC, est_minutes, minutes, est_grams, grams);

CREATE TABLE print_items (
    print_id    TEXT NOT NULL REFERENCES prints (id) ON DELETE CASCADE,
    item        INTEGER NOT NULL,
    project_id  TEXT NOT NULL,
    key         TEXT NOT NULL,
    number      INTEGER,
    name        TEXT NOT NULL,
    copy_number INTEGER NOT NULL,
    shape       TEXT NOT NULL,
    grams       REAL NOT NULL,
    minutes     REAL NOT NULL,
    state       TEXT NOT NULL CHECK (state IN ('in a batch', 'printing', 'printed', 'cleaned', 'fitted', 'finished', 'installed',
                                               'spare', 'lost', 'failed', 'not printed')),
    result      TEXT CHECK (result IN ('good', 'usable after clean-up', 'failed')),
    reason      TEXT,
    note        TEXT NOT NULL DEFAULT '',
    version     INTEGER NOT NULL DEFAULT 1,
    changed_at  TEXT NOT NULL,
    PRIMARY KEY (print_id, item)
) STRICT, WITHOUT ROWID;

CREATE INDEX items_of_project ON print_items (project_id, key);

CREATE TABLE print_photos (
    print_id TEXT PRIMARY KEY REFERENCES prints (id) ON DELETE CASCADE,
    at       TEXT NOT NULL,
    sha256   TEXT NOT NULL,
    jpeg     BLOB NOT NULL
) STRICT;

CREATE TABLE fit_answers (
    id           INTEGER PRIMARY KEY,
    project_id   TEXT REFERENCES projects (id) ON DELETE SET NULL,
    printer_id   TEXT NOT NULL,
    material_id  TEXT NOT NULL,
    joint        TEXT NOT NULL,
    fit          TEXT NOT NULL CHECK (fit IN ('press', 'snug', 'sliding', 'loose')),
    clearance_mm REAL NOT NULL,
    answer       TEXT NOT NULL CHECK (answer IN ('no', 'force', 'hand', 'slides', 'rattles')),
    note         TEXT NOT NULL DEFAULT '',
    made_at      TEXT NOT NULL
) STRICT;

-- A clearance may now also come from joints of real pieces.
CREATE TABLE fits_now (
    printer_id   TEXT NOT NULL REFERENCES printers (id) ON DELETE CASCADE,
    material_id  TEXT NOT NULL REFERENCES materials (id) ON DELETE CASCADE,
    fit          TEXT NOT NULL CHECK (fit IN ('press', 'snug', 'sliding', 'loose')),
    clearance_mm REAL NOT NULL,
    origin       TEXT NOT NULL CHECK (origin IN ('typed', 'ladder', 'pieces')),
    note         TEXT NOT NULL DEFAULT '',
    updated_at   TEXT NOT NULL,
    PRIMARY KEY (printer_id, material_id, fit)
) STRICT;
INSERT INTO fits_now SELECT * FROM fits;
DROP TABLE fits;
ALTER TABLE fits_now RENAME TO fits;

-- The shelf: what is shown of a project without reading its plan, and whether it is put away.
ALTER TABLE projects ADD COLUMN archived_at TEXT;
ALTER TABLE projects ADD COLUMN facts TEXT NOT NULL DEFAULT '{}';     -- JSON, checked by hinoki.store.projects.Facts
ALTER TABLE projects ADD COLUMN pieces INTEGER NOT NULL DEFAULT 0;    -- of the last build
ALTER TABLE projects ADD COLUMN printed INTEGER NOT NULL DEFAULT 0;   -- of these, how many are printed
ALTER TABLE projects ADD COLUMN installed INTEGER NOT NULL DEFAULT 0; -- and finished or installed
UPDATE projects SET facts = (
    SELECT json_object('model_name', json_extract(r.plan, '$.model.file_name'),
                       'partings', json_array_length(coalesce(json_extract(r.plan, '$.partings'), '[]')),
                       'joints', json_array_length(coalesce(json_extract(r.plan, '$.joints'), '[]')),
                       'printer', coalesce(json_extract(r.plan, '$.printer.name'), ''))
    FROM revisions r WHERE r.project_id = projects.id AND r.number = projects.head);

CREATE TABLE piece_shapes (  -- of the revision built last
    project_id TEXT NOT NULL REFERENCES projects (id) ON DELETE CASCADE,
    key        TEXT NOT NULL,
    shape      TEXT NOT NULL,
    PRIMARY KEY (project_id, key)
) STRICT, WITHOUT ROWID;

ALTER TABLE revisions ADD COLUMN name TEXT NOT NULL DEFAULT '';
