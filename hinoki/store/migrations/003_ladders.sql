-- Fit ladders that were printed and answered. They are kept, so that another day's can be compared.
CREATE TABLE ladders (
    id          INTEGER PRIMARY KEY,
    printer_id  TEXT NOT NULL REFERENCES printers (id) ON DELETE CASCADE,
    material_id TEXT NOT NULL REFERENCES materials (id) ON DELETE CASCADE,
    layer_mm    REAL NOT NULL,
    joint       TEXT NOT NULL,  -- its label, such as "2 pins ø6 × 7"
    answers     TEXT NOT NULL,  -- JSON, checked by hinoki.core.ladder_answers.Answers
    note        TEXT NOT NULL DEFAULT '',
    made_at     TEXT NOT NULL
) STRICT;
