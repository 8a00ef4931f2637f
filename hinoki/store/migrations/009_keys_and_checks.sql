-- Nothing twice, nothing that leads nowhere: heads, tips and parents are revisions that are there, keys of pieces stand in one
-- table, what JSON is told to be is JSON, states are slugs, and what can be counted or read from elsewhere is not kept.
CREATE TABLE revisions_now (
    project_id TEXT NOT NULL REFERENCES projects_now (id) ON DELETE CASCADE,
    number     INTEGER NOT NULL CHECK (number > 0),
    parent     INTEGER CHECK (parent < number),  -- none for the first
    label      TEXT NOT NULL,
    name       TEXT NOT NULL DEFAULT '',
    created_at TEXT NOT NULL,
    -- what the shelf shows, before the plan so that it is read without it
    model_name TEXT GENERATED ALWAYS AS (json_extract(plan, '$.model.file_name')) STORED,
    partings   INTEGER GENERATED ALWAYS AS (coalesce(json_array_length(plan, '$.partings'), 0)) STORED,
    joints     INTEGER GENERATED ALWAYS AS (coalesce(json_array_length(plan, '$.joints'), 0)) STORED,
    printer    TEXT GENERATED ALWAYS AS (coalesce(json_extract(plan, '$.printer.name'), '')) STORED,
    plan       TEXT NOT NULL CHECK (json_valid(plan)),
    PRIMARY KEY (project_id, number),
    FOREIGN KEY (project_id, parent) REFERENCES revisions_now (project_id, number)
) STRICT;
INSERT INTO revisions_now (project_id, number, parent, label, name, created_at, plan)
    SELECT project_id, number, nullif(parent, 0), label, name, created_at, plan FROM revisions;

CREATE TABLE projects_now (
    id          TEXT PRIMARY KEY,
    name        TEXT NOT NULL,
    created_at  TEXT NOT NULL,
    updated_at  TEXT NOT NULL,
    head        INTEGER,  -- the revision that is shown; undo and redo move it
    tip         INTEGER,  -- the revision made last; redo leads there
    archived_at TEXT,
    FOREIGN KEY (id, head) REFERENCES revisions_now (project_id, number),
    FOREIGN KEY (id, tip) REFERENCES revisions_now (project_id, number)
) STRICT;
INSERT INTO projects_now SELECT id, name, created_at, updated_at, nullif(head, 0), nullif(tip, 0), archived_at FROM projects;

CREATE TABLE piece_keys (  -- keys of pieces, and of other things that are put together; a key may be very long
    id         INTEGER PRIMARY KEY,
    project_id TEXT NOT NULL REFERENCES projects_now (id) ON DELETE CASCADE,
    key        TEXT NOT NULL,
    UNIQUE (project_id, key)
) STRICT;
INSERT INTO piece_keys (project_id, key)
    SELECT project_id, piece_key FROM piece_numbers
    UNION SELECT project_id, key FROM piece_shapes
    UNION SELECT project_id, key FROM print_items
    UNION SELECT project_id, unit FROM ticked_steps
    UNION SELECT project_id, unit FROM step_photos
    ORDER BY 1, 2;

CREATE TABLE piece_numbers_now (
    piece_id INTEGER PRIMARY KEY REFERENCES piece_keys (id) ON DELETE CASCADE,
    number   INTEGER NOT NULL CHECK (number > 0)
) STRICT;
INSERT INTO piece_numbers_now
    SELECT k.id, n.number FROM piece_numbers n JOIN piece_keys k ON k.project_id = n.project_id AND k.key = n.piece_key;

CREATE TABLE piece_shapes_now (  -- of the revision built last
    piece_id INTEGER PRIMARY KEY REFERENCES piece_keys (id) ON DELETE CASCADE,
    shape    TEXT NOT NULL
) STRICT;
INSERT INTO piece_shapes_now
    SELECT k.id, s.shape FROM piece_shapes s JOIN piece_keys k ON k.project_id = s.project_id AND k.key = s.key;

CREATE TABLE ticked_steps_now (  -- by the thing that a step moves
    piece_id INTEGER PRIMARY KEY REFERENCES piece_keys (id) ON DELETE CASCADE,
    at       TEXT NOT NULL
) STRICT;
INSERT INTO ticked_steps_now
    SELECT k.id, t.at FROM ticked_steps t JOIN piece_keys k ON k.project_id = t.project_id AND k.key = t.unit;

CREATE TABLE step_photos_now (  -- by the thing that a step moves
    piece_id INTEGER PRIMARY KEY REFERENCES piece_keys (id) ON DELETE CASCADE,
    at       TEXT NOT NULL,
    sha256   TEXT NOT NULL,
    jpeg     BLOB NOT NULL
) STRICT;
INSERT INTO step_photos_now
    SELECT k.id, p.at, p.sha256, p.jpeg FROM step_photos p JOIN piece_keys k ON k.project_id = p.project_id AND k.key = p.unit;

CREATE TABLE went_out_now (
    id         INTEGER PRIMARY KEY,
    project_id TEXT NOT NULL REFERENCES projects_now (id) ON DELETE CASCADE,
    revision   INTEGER NOT NULL,
    at         TEXT NOT NULL,
    wish       TEXT NOT NULL CHECK (json_valid(wish)),  -- hinoki.core.export.archive.ExportWish
    held       TEXT NOT NULL CHECK (json_valid(held))   -- hinoki.core.export.manifest.WentOut
) STRICT;
INSERT INTO went_out_now SELECT * FROM went_out;

CREATE TABLE machines_now (
    id         TEXT PRIMARY KEY,
    body       TEXT NOT NULL CHECK (json_valid(body)),  -- hinoki.printers.base.Machine
    updated_at TEXT NOT NULL
) STRICT;
INSERT INTO machines_now SELECT * FROM machines ORDER BY rowid;

CREATE TABLE printers_now (
    id         TEXT PRIMARY KEY,
    body       TEXT NOT NULL CHECK (json_valid(body)),  -- hinoki.core.workshop.printers.Printer
    updated_at TEXT NOT NULL
) STRICT;
INSERT INTO printers_now SELECT * FROM printers ORDER BY rowid;

CREATE TABLE materials_now (
    id         TEXT PRIMARY KEY,
    body       TEXT NOT NULL CHECK (json_valid(body)),  -- hinoki.core.workshop.materials.Material
    updated_at TEXT NOT NULL
) STRICT;
INSERT INTO materials_now SELECT * FROM materials ORDER BY rowid;

CREATE TABLE own_sizes_now (
    id         TEXT PRIMARY KEY,
    body       TEXT NOT NULL CHECK (json_valid(body)),  -- hinoki.core.workshop.inventory.OwnSize
    updated_at TEXT NOT NULL
) STRICT;
INSERT INTO own_sizes_now SELECT * FROM own_sizes ORDER BY rowid;

CREATE TABLE ladders_now (
    id          INTEGER PRIMARY KEY,
    printer_id  TEXT NOT NULL REFERENCES printers_now (id) ON DELETE CASCADE,
    material_id TEXT NOT NULL REFERENCES materials_now (id) ON DELETE CASCADE,
    layer_mm    REAL NOT NULL,
    joint       TEXT NOT NULL,  -- its label, such as "2 pins ø6 × 7"
    answers     TEXT NOT NULL CHECK (json_valid(answers)),  -- hinoki.core.workshop.fit_ladder_answers.Answers
    note        TEXT NOT NULL DEFAULT '',
    made_at     TEXT NOT NULL
) STRICT;
INSERT INTO ladders_now SELECT * FROM ladders;

CREATE TABLE prints_now (
    id          TEXT PRIMARY KEY,  -- also what the printer knows it by
    project_id  TEXT NOT NULL REFERENCES projects_now (id) ON DELETE CASCADE,
    number      INTEGER NOT NULL CHECK (number > 0),  -- counts the prints of a project
    revision    INTEGER NOT NULL,
    state       TEXT NOT NULL CHECK (state IN ('sending', 'sent', 'printing', 'paused', 'done', 'stopped', 'broke-off', 'refused')),
    machine_id  TEXT REFERENCES machines_now (id) ON DELETE SET NULL,
    machine     TEXT NOT NULL,  -- what it was called then
    spool_id    INTEGER REFERENCES spools (id) ON DELETE SET NULL,
    -- out of the batch, so that all prints can be learned from without reading it
    printer_id  TEXT GENERATED ALWAYS AS (json_extract(batch, '$.printer_id')) STORED,
    material_id TEXT GENERATED ALWAYS AS (json_extract(batch, '$.material_id')) STORED,
    est_minutes REAL GENERATED ALWAYS AS (json_extract(batch, '$.minutes')) STORED,
    est_grams   REAL GENERATED ALWAYS AS (json_extract(batch, '$.grams')) STORED,
    sent_at     TEXT NOT NULL,     -- ISO 8601, UTC, as all times here
    begun_at    TEXT,
    ended_at    TEXT,
    minutes     REAL,              -- measured
    grams       REAL,              -- measured
    gone_since  TEXT,
    why         TEXT NOT NULL DEFAULT '',
    note        TEXT NOT NULL DEFAULT '',
    progress    TEXT NOT NULL CHECK (json_valid(progress)),  -- hinoki.core.printlog.records.Progress
    batch       TEXT NOT NULL CHECK (json_valid(batch)),     -- hinoki.core.printlog.records.PreparedBatch
    UNIQUE (project_id, number)
) STRICT;
INSERT INTO prints_now (id, project_id, number, revision, state, machine_id, machine, spool_id, sent_at, begun_at, ended_at, minutes,
                        grams, gone_since, why, note, progress, batch)
    SELECT id, project_id, number, revision, replace(state, ' ', '-'),
           CASE WHEN machine_id IN (SELECT id FROM machines) THEN machine_id END,
           machine, spool_id, sent_at, begun_at, ended_at, minutes, grams, gone_since, why, note, progress, batch
    FROM prints;

CREATE TABLE print_items_now (
    print_id    TEXT NOT NULL REFERENCES prints_now (id) ON DELETE CASCADE,
    item        INTEGER NOT NULL,
    piece_id    INTEGER NOT NULL REFERENCES piece_keys (id),
    number      INTEGER,
    name        TEXT NOT NULL,
    copy_number INTEGER NOT NULL,
    shape       TEXT NOT NULL,
    grams       REAL NOT NULL,
    minutes     REAL NOT NULL,
    state       TEXT NOT NULL CHECK (state IN ('in-a-batch', 'printing', 'printed', 'cleaned', 'fitted', 'finished', 'installed',
                                               'spare', 'lost', 'failed', 'not-printed')),
    result      TEXT CHECK (result IN ('good', 'usable-after-clean-up', 'failed')),
    reason      TEXT CHECK (reason IN ('came-loose', 'warped', 'support-scar', 'ran-out', 'too-tight', 'broke', 'printer-stopped',
                                       'other')),
    note        TEXT NOT NULL DEFAULT '',
    version     INTEGER NOT NULL DEFAULT 1,
    changed_at  TEXT NOT NULL,
    PRIMARY KEY (print_id, item)
) STRICT, WITHOUT ROWID;
INSERT INTO print_items_now
    SELECT i.print_id, i.item, k.id, i.number, i.name, i.copy_number, i.shape, i.grams, i.minutes, replace(i.state, ' ', '-'),
           replace(i.result, ' ', '-'), replace(i.reason, ' ', '-'), i.note, i.version, i.changed_at
    FROM print_items i JOIN piece_keys k ON k.project_id = i.project_id AND k.key = i.key;

DROP TABLE print_items;
DROP TABLE prints;
DROP TABLE step_photos;
DROP TABLE ticked_steps;
DROP TABLE piece_shapes;
DROP TABLE piece_numbers;
DROP TABLE went_out;
DROP TABLE ladders;
DROP TABLE own_sizes;
DROP TABLE materials;
DROP TABLE printers;
DROP TABLE machines;
DROP TABLE revisions;
DROP TABLE projects;
ALTER TABLE projects_now RENAME TO projects;
ALTER TABLE revisions_now RENAME TO revisions;
ALTER TABLE machines_now RENAME TO machines;
ALTER TABLE printers_now RENAME TO printers;
ALTER TABLE materials_now RENAME TO materials;
ALTER TABLE own_sizes_now RENAME TO own_sizes;
ALTER TABLE ladders_now RENAME TO ladders;
ALTER TABLE went_out_now RENAME TO went_out;
ALTER TABLE piece_numbers_now RENAME TO piece_numbers;
ALTER TABLE piece_shapes_now RENAME TO piece_shapes;
ALTER TABLE ticked_steps_now RENAME TO ticked_steps;
ALTER TABLE step_photos_now RENAME TO step_photos;
ALTER TABLE prints_now RENAME TO prints;
ALTER TABLE print_items_now RENAME TO print_items;

CREATE INDEX revisions_by_parent ON revisions (project_id, parent);
CREATE INDEX went_out_of_project ON went_out (project_id, at);
CREATE INDEX ladders_of_printer ON ladders (printer_id);
CREATE INDEX ladders_of_material ON ladders (material_id);
CREATE INDEX fits_of_material ON fits (material_id);
CREATE INDEX spools_of_material ON spools (material_id);
CREATE INDEX fit_answers_of_project ON fit_answers (project_id);
CREATE INDEX prints_of_machine ON prints (machine_id);
CREATE INDEX prints_of_spool ON prints (spool_id);
CREATE INDEX prints_taught ON prints (state, printer_id, material_id, ended_at DESC, est_minutes, minutes, est_grams, grams);
CREATE INDEX items_of_piece ON print_items (piece_id, shape, state);
