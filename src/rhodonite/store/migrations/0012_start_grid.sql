-- Minutes of the day on which starts fall that are computed from now: whole quarter hours unless a project says otherwise.
ALTER TABLE projects ADD COLUMN start_grid TINYINT UNSIGNED NOT NULL DEFAULT 15;
