-- Hours that people spent on tasks, and which projects record them.
ALTER TABLE projects ADD COLUMN time BOOLEAN NOT NULL DEFAULT FALSE, ADD COLUMN client VARCHAR(200) NOT NULL DEFAULT '';

-- Minutes of all entries of a task: counted anew with each of them
ALTER TABLE tasks ADD COLUMN spent INT UNSIGNED NOT NULL DEFAULT 0;

CREATE TABLE time_entries (
  id UUID NOT NULL PRIMARY KEY,
  project_id UUID NOT NULL,
  task_id UUID NOT NULL,
  person_id UUID NOT NULL,
  -- local, as the dates of a plan
  day DATE NOT NULL,
  minutes SMALLINT UNSIGNED NOT NULL,
  -- the minute of the day at which it began, where that was said
  started SMALLINT UNSIGNED NULL,
  note VARCHAR(500) NOT NULL DEFAULT '',
  billable BOOLEAN NOT NULL DEFAULT TRUE,
  -- of the project at its last change
  revision INT UNSIGNED NOT NULL,
  deleted_at DATETIME(6) NULL,
  KEY time_entries_task (task_id, deleted_at),
  KEY time_entries_person (person_id, day),
  KEY time_entries_project (project_id, day),
  CONSTRAINT time_entries_project_of FOREIGN KEY (project_id) REFERENCES projects (id),
  CONSTRAINT time_entries_task_of FOREIGN KEY (task_id) REFERENCES tasks (id),
  CONSTRAINT time_entries_person_of FOREIGN KEY (person_id) REFERENCES people (id)
);

-- One a person: it runs in the database, whatever becomes of browsers and processes.
CREATE TABLE timers (
  person_id UUID NOT NULL PRIMARY KEY,
  task_id UUID NOT NULL,
  -- an instant, in UTC
  started_at DATETIME(6) NOT NULL,
  note VARCHAR(500) NOT NULL DEFAULT '',
  billable BOOLEAN NOT NULL DEFAULT TRUE,
  CONSTRAINT timers_of FOREIGN KEY (person_id) REFERENCES people (id),
  CONSTRAINT timers_task FOREIGN KEY (task_id) REFERENCES tasks (id)
);

-- A person's week in one project, once it was handed in: its leads accept it, which closes its hours, or return it.
CREATE TABLE handed_weeks (
  person_id UUID NOT NULL,
  monday DATE NOT NULL,
  project_id UUID NOT NULL,
  state VARCHAR(10) NOT NULL,
  word VARCHAR(500) NOT NULL DEFAULT '',
  by_id UUID NOT NULL,
  at DATETIME(6) NOT NULL,
  PRIMARY KEY (person_id, monday, project_id),
  KEY handed_weeks_project (project_id, state),
  CONSTRAINT handed_weeks_of FOREIGN KEY (person_id) REFERENCES people (id),
  CONSTRAINT handed_weeks_project_of FOREIGN KEY (project_id) REFERENCES projects (id),
  CONSTRAINT handed_weeks_by FOREIGN KEY (by_id) REFERENCES people (id)
);
