-- Sizes of hardware the maker has, and what of any hardware lies in the drawer.
CREATE TABLE own_sizes (
    id         TEXT PRIMARY KEY,
    body       TEXT NOT NULL,  -- JSON, checked by hinoki.core.own_hardware.OwnSize
    updated_at TEXT NOT NULL
) STRICT;

CREATE TABLE stock (
    name       TEXT PRIMARY KEY,  -- as the hardware list writes it, such as "magnet disc 6 × 3"
    count      INTEGER NOT NULL,
    length_mm  REAL,  -- in all, of what is cut to length
    updated_at TEXT NOT NULL
) STRICT;
