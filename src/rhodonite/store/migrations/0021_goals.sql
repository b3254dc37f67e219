-- What the organisation is there for, and the names of the sections of progress notes. One row, once there is a goal; its version counts all changes
-- to goals, so that changes to their tree come one after the other and every page hears of them.
CREATE TABLE goal_settings (
  id TINYINT NOT NULL PRIMARY KEY,
  purpose VARCHAR(2000) NOT NULL DEFAULT '',
  -- NULL: the usual ones
  sections JSON NULL,
  version BIGINT NOT NULL DEFAULT 1
);

CREATE TABLE goals (
  id UUID NOT NULL PRIMARY KEY,
  title VARCHAR(200) NOT NULL,
  owner_id UUID NOT NULL,
  first_day DATE NOT NULL,
  last_day DATE NOT NULL,
  at DATETIME(6) NOT NULL,
  parent_id UUID NULL,
  -- organisation, team or person; whose: the id of the team or person
  belongs VARCHAR(12) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  whose UUID NULL,
  description MEDIUMTEXT NOT NULL,
  -- everyone or people
  seen_by VARCHAR(10) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  -- by person: read, comment or edit
  people JSON NOT NULL,
  weight INT NOT NULL DEFAULT 1,
  measure JSON NOT NULL,
  rhythm VARCHAR(12) CHARACTER SET ascii COLLATE ascii_bin NULL,
  outcome VARCHAR(12) CHARACTER SET ascii COLLATE ascii_bin NULL,
  word VARCHAR(2000) NOT NULL DEFAULT '',
  closed_at DATETIME(6) NULL,
  closed_value DECIMAL(18, 4) NULL,
  closed_percent DECIMAL(5, 1) NULL,
  -- the day up to which its owner was reminded
  reminded DATE NULL,
  version INT NOT NULL DEFAULT 1,
  deleted_at DATETIME(6) NULL,
  KEY goals_alive (deleted_at, first_day),
  KEY goals_owner (owner_id),
  CONSTRAINT goals_owned FOREIGN KEY (owner_id) REFERENCES people (id),
  CONSTRAINT goals_below FOREIGN KEY (parent_id) REFERENCES goals (id)
);

-- The projects whose work a goal counts: those in its measure, to be found from the project
CREATE TABLE goal_projects (
  goal_id UUID NOT NULL,
  project_id UUID NOT NULL,
  PRIMARY KEY (project_id, goal_id),
  KEY goal_projects_goal (goal_id),
  CONSTRAINT goal_projects_goal_of FOREIGN KEY (goal_id) REFERENCES goals (id) ON DELETE CASCADE,
  CONSTRAINT goal_projects_project FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE
);

CREATE TABLE goal_followers (
  goal_id UUID NOT NULL,
  person_id UUID NOT NULL,
  PRIMARY KEY (goal_id, person_id),
  CONSTRAINT goal_followers_goal FOREIGN KEY (goal_id) REFERENCES goals (id) ON DELETE CASCADE,
  CONSTRAINT goal_followers_person FOREIGN KEY (person_id) REFERENCES people (id) ON DELETE CASCADE
);

CREATE TABLE goal_notes (
  id UUID NOT NULL PRIMARY KEY,
  goal_id UUID NOT NULL,
  person_id UUID NOT NULL,
  at DATETIME(6) NOT NULL,
  -- steady, strained or slipping; NULL: it judges nothing
  health VARCHAR(10) CHARACTER SET ascii COLLATE ascii_bin NULL,
  sections JSON NOT NULL,
  people JSON NOT NULL,
  deleted_at DATETIME(6) NULL,
  KEY goal_notes_goal (goal_id, at),
  CONSTRAINT goal_notes_of FOREIGN KEY (goal_id) REFERENCES goals (id) ON DELETE CASCADE,
  CONSTRAINT goal_notes_by FOREIGN KEY (person_id) REFERENCES people (id)
);

CREATE TABLE goal_note_readers (
  note_id UUID NOT NULL,
  person_id UUID NOT NULL,
  at DATETIME(6) NOT NULL,
  PRIMARY KEY (note_id, person_id),
  CONSTRAINT goal_note_readers_note FOREIGN KEY (note_id) REFERENCES goal_notes (id) ON DELETE CASCADE,
  CONSTRAINT goal_note_readers_person FOREIGN KEY (person_id) REFERENCES people (id) ON DELETE CASCADE
);

CREATE TABLE goal_values (
  id UUID NOT NULL PRIMARY KEY,
  goal_id UUID NOT NULL,
  day DATE NOT NULL,
  value DECIMAL(18, 4) NOT NULL,
  person_id UUID NOT NULL,
  at DATETIME(6) NOT NULL,
  note_id UUID NULL,
  deleted_at DATETIME(6) NULL,
  KEY goal_values_goal (goal_id, day),
  CONSTRAINT goal_values_of FOREIGN KEY (goal_id) REFERENCES goals (id) ON DELETE CASCADE,
  CONSTRAINT goal_values_by FOREIGN KEY (person_id) REFERENCES people (id)
);

-- A notice can speak of a goal, which is in no project
ALTER TABLE notices MODIFY project_id UUID NULL, ADD COLUMN goal_id UUID NULL,
  ADD CONSTRAINT notices_goal FOREIGN KEY (goal_id) REFERENCES goals (id) ON DELETE CASCADE;
