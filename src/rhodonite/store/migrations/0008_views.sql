-- What a project defines for its tasks itself: fields, kinds and marks.
CREATE TABLE definitions (
  id UUID NOT NULL PRIMARY KEY,
  project_id UUID NOT NULL,
  -- field, kind or mark
  sort VARCHAR(8) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  name VARCHAR(60) NOT NULL,
  place VARCHAR(120) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  settings JSON NOT NULL,
  -- what was taken away is kept, for the values that tasks have in it
  deleted_at DATETIME(6) NULL,
  KEY definitions_project (project_id, sort),
  CONSTRAINT definitions_of FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE
);

-- Sheets: a lens with its sentence, columns, groups, order and tints, kept under a name.
CREATE TABLE sheets (
  id UUID NOT NULL PRIMARY KEY,
  -- NULL: over all projects, on the desk
  project_id UUID NULL,
  person_id UUID NOT NULL,
  name VARCHAR(120) NOT NULL,
  place VARCHAR(120) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  -- private, people or project
  seen_by VARCHAR(8) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT 'private',
  people JSON NOT NULL DEFAULT '[]',
  is_default BOOLEAN NOT NULL DEFAULT FALSE,
  view JSON NOT NULL,
  version INT NOT NULL DEFAULT 1,
  deleted_at DATETIME(6) NULL,
  KEY sheets_project (project_id),
  KEY sheets_person (person_id),
  CONSTRAINT sheets_of FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE,
  CONSTRAINT sheets_by FOREIGN KEY (person_id) REFERENCES people (id)
);

-- How a task repeats, as core/repeats.py keeps it; NULL: not at all.
ALTER TABLE tasks ADD COLUMN repeats JSON NULL AFTER own;
