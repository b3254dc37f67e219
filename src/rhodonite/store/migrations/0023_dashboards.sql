-- Dashboards: panels on a grid, each with a sentence of its own. What stands on them follows the rights of who reads.
CREATE TABLE dashboards (
  id UUID NOT NULL PRIMARY KEY,
  -- NULL: over all projects
  project_id UUID NULL,
  person_id UUID NOT NULL,
  name VARCHAR(120) NOT NULL,
  place VARCHAR(120) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  -- private, people or everyone
  seen_by VARCHAR(8) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT 'private',
  people JSON NOT NULL DEFAULT '[]',
  -- the sentence for all of its panels
  scope JSON NOT NULL DEFAULT '{}',
  version INT NOT NULL DEFAULT 1,
  -- counts every change to it and to its panels
  changes INT NOT NULL DEFAULT 1,
  deleted_at DATETIME(6) NULL,
  KEY dashboards_project (project_id),
  KEY dashboards_person (person_id),
  CONSTRAINT dashboards_of FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE,
  CONSTRAINT dashboards_by FOREIGN KEY (person_id) REFERENCES people (id)
);

CREATE TABLE dashboard_panels (
  id UUID NOT NULL PRIMARY KEY,
  dashboard_id UUID NOT NULL,
  kind VARCHAR(12) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  title VARCHAR(120) NOT NULL DEFAULT '',
  place VARCHAR(120) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  width TINYINT NOT NULL,
  height TINYINT NOT NULL,
  scope JSON NOT NULL DEFAULT '{}',
  options JSON NOT NULL DEFAULT '{}',
  version INT NOT NULL DEFAULT 1,
  deleted_at DATETIME(6) NULL,
  KEY dashboard_panels_of (dashboard_id, deleted_at),
  CONSTRAINT dashboard_panels_on FOREIGN KEY (dashboard_id) REFERENCES dashboards (id) ON DELETE CASCADE
);

-- The parts of a project's brief in their order, with commas between.
ALTER TABLE projects ADD COLUMN brief VARCHAR(200) NOT NULL DEFAULT 'reading,states,curve,decisions,goals,report,over,due,changed';

-- On which day of the week (0 is Monday) what a sheet shows is sent, to whom, and the day on which it was sent last
ALTER TABLE sheets
  ADD COLUMN send_on TINYINT NULL,
  ADD COLUMN send_to JSON NOT NULL DEFAULT '[]',
  ADD COLUMN sent DATE NULL,
  ADD KEY sheets_sending (send_on);

-- What hangs on a message
CREATE TABLE dispatch_files (
  id UUID NOT NULL PRIMARY KEY,
  dispatch_id UUID NOT NULL,
  name VARCHAR(200) NOT NULL,
  media VARCHAR(120) NOT NULL,
  body MEDIUMBLOB NOT NULL,
  KEY dispatch_files_of (dispatch_id),
  CONSTRAINT dispatch_files_on FOREIGN KEY (dispatch_id) REFERENCES dispatches (id) ON DELETE CASCADE
);
