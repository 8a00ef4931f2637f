-- The workshop: printers, materials, the clearances found for each pair of them, and a few settings.
CREATE TABLE printers (
    id         TEXT PRIMARY KEY,
    body       TEXT NOT NULL,  -- JSON, checked by hinoki.core.printers.Printer
    updated_at TEXT NOT NULL
) STRICT;

CREATE TABLE materials (
    id         TEXT PRIMARY KEY,
    body       TEXT NOT NULL,  -- JSON, checked by hinoki.core.materials.Material
    updated_at TEXT NOT NULL
) STRICT;

CREATE TABLE fits (
    printer_id   TEXT NOT NULL REFERENCES printers (id) ON DELETE CASCADE,
    material_id  TEXT NOT NULL REFERENCES materials (id) ON DELETE CASCADE,
    fit          TEXT NOT NULL CHECK (fit IN ('press', 'snug', 'sliding', 'loose')),
    clearance_mm REAL NOT NULL,
    origin       TEXT NOT NULL CHECK (origin IN ('typed', 'ladder')),
    note         TEXT NOT NULL DEFAULT '',
    updated_at   TEXT NOT NULL,
    PRIMARY KEY (printer_id, material_id, fit)
) STRICT;

CREATE TABLE settings (
    name  TEXT PRIMARY KEY,
    value TEXT NOT NULL
) STRICT;
