-- Whose file this is: "HINO", so that no other program's database is taken for a backup of ours.
PRAGMA application_id = 1212763727;
