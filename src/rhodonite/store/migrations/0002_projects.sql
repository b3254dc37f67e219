-- Projects, tasks and the journal. Dates of a plan are local; instants end in _at and are UTC, save held_since,
-- actual dates and state_since, which people read beside the plan and which are local too.
CREATE TABLE projects (
  id UUID NOT NULL PRIMARY KEY,
  code VARCHAR(8) NOT NULL,
  name VARCHAR(200) NOT NULL,
  description MEDIUMTEXT NOT NULL,
  lead_id UUID NULL,
  start_day DATE NOT NULL,
  private BOOLEAN NOT NULL DEFAULT FALSE,
  archived_at DATETIME(6) NULL,
  created_at DATETIME(6) NOT NULL,
  next_number INT NOT NULL DEFAULT 1,
  -- counts every change to the project; meta_revision is its value at the last change to anything but tasks
  revision INT NOT NULL DEFAULT 1,
  meta_revision INT NOT NULL DEFAULT 1,
  changed_at DATETIME(6) NOT NULL,
  UNIQUE KEY projects_code (code),
  FULLTEXT KEY projects_words (name, description),
  CONSTRAINT projects_lead FOREIGN KEY (lead_id) REFERENCES people (id) ON DELETE SET NULL
);

CREATE TABLE calendars (
  id UUID NOT NULL PRIMARY KEY,
  project_id UUID NULL,
  name VARCHAR(120) NOT NULL,
  -- {"mon": [["09:00", "13:00"]], ...} and [{"from": "2027-04-02", "to": "2027-04-05", "hours": [], "name": ""}]
  week JSON NOT NULL,
  exceptions JSON NOT NULL,
  UNIQUE KEY calendars_project (project_id),
  CONSTRAINT calendars_of FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE
);

CREATE TABLE members (
  project_id UUID NOT NULL,
  person_id UUID NOT NULL,
  role VARCHAR(16) NOT NULL,
  PRIMARY KEY (project_id, person_id),
  KEY members_person (person_id),
  CONSTRAINT members_project FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE,
  CONSTRAINT members_of FOREIGN KEY (person_id) REFERENCES people (id) ON DELETE CASCADE
);

CREATE TABLE states (
  id UUID NOT NULL PRIMARY KEY,
  project_id UUID NOT NULL,
  name VARCHAR(60) NOT NULL,
  state_class VARCHAR(10) NOT NULL,
  place VARCHAR(60) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  at_most INT NULL,
  KEY states_project (project_id),
  CONSTRAINT states_of FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE
);

CREATE TABLE tasks (
  id UUID NOT NULL PRIMARY KEY,
  project_id UUID NOT NULL,
  number INT NOT NULL,
  parent_id UUID NULL,
  place VARCHAR(120) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  kind VARCHAR(16) NOT NULL,
  title VARCHAR(500) NOT NULL,
  description MEDIUMTEXT NOT NULL DEFAULT '',
  owner_id UUID NULL,
  state_id UUID NOT NULL,
  board_place VARCHAR(120) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  held_reason VARCHAR(300) NULL,
  held_since DATETIME NULL,
  priority VARCHAR(8) NULL,
  start DATETIME NULL,
  finish DATETIME NULL,
  duration INT NULL,
  deadline DATETIME NULL,
  effort INT NULL,
  percent TINYINT UNSIGNED NOT NULL DEFAULT 0,
  actual_start DATETIME NULL,
  actual_finish DATETIME NULL,
  state_since DATETIME NULL,
  pushes SMALLINT NOT NULL DEFAULT 0,
  created_at DATETIME(6) NOT NULL,
  deleted_at DATETIME NULL,
  -- the project's revision at the task's last change
  revision INT NOT NULL,
  UNIQUE KEY tasks_number (project_id, number),
  KEY tasks_changed (project_id, revision),
  KEY tasks_living (project_id, deleted_at, state_id),
  KEY tasks_owner (owner_id, deleted_at),
  KEY tasks_parent (parent_id, deleted_at),
  FULLTEXT KEY tasks_words (title, description),
  CONSTRAINT tasks_project FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE,
  CONSTRAINT tasks_above FOREIGN KEY (parent_id) REFERENCES tasks (id),
  CONSTRAINT tasks_owned FOREIGN KEY (owner_id) REFERENCES people (id) ON DELETE SET NULL,
  CONSTRAINT tasks_state FOREIGN KEY (state_id) REFERENCES states (id)
);

CREATE TABLE helpers (
  task_id UUID NOT NULL,
  person_id UUID NOT NULL,
  position SMALLINT NOT NULL DEFAULT 0,
  PRIMARY KEY (task_id, person_id),
  KEY helpers_person (person_id),
  CONSTRAINT helpers_task FOREIGN KEY (task_id) REFERENCES tasks (id) ON DELETE CASCADE,
  CONSTRAINT helpers_of FOREIGN KEY (person_id) REFERENCES people (id) ON DELETE CASCADE
);

-- One use of the program that wrote something. The id comes from the client: a repeated request finds it taken.
CREATE TABLE changes (
  id UUID NOT NULL PRIMARY KEY,
  project_id UUID NULL,
  revision INT NOT NULL,
  person_id UUID NOT NULL,
  at DATETIME(6) NOT NULL,
  what VARCHAR(80) NOT NULL,
  undone_by UUID NULL,
  KEY changes_project (project_id, revision),
  CONSTRAINT changes_by FOREIGN KEY (person_id) REFERENCES people (id)
);

-- Every field that changed: what it was, what it became. Never edited.
CREATE TABLE journal (
  id BIGINT NOT NULL AUTO_INCREMENT PRIMARY KEY,
  change_id UUID NOT NULL,
  project_id UUID NULL,
  revision INT NOT NULL,
  person_id UUID NOT NULL,
  at DATETIME(6) NOT NULL,
  subject VARCHAR(16) NOT NULL,
  subject_id UUID NOT NULL,
  field VARCHAR(40) NOT NULL,
  old MEDIUMTEXT NULL,
  new MEDIUMTEXT NULL,
  KEY journal_change (change_id),
  KEY journal_project (project_id, revision),
  KEY journal_subject (subject_id, revision),
  KEY journal_field (project_id, field, id)
);
