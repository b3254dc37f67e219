-- What work costs, in projects that reckon it: one currency each, none of its own is the organisation's.
ALTER TABLE projects ADD COLUMN costs BOOLEAN NOT NULL DEFAULT FALSE, ADD COLUMN currency CHAR(3) NULL,
  ADD COLUMN exchange DECIMAL(20, 8) NOT NULL DEFAULT 1;

ALTER TABLE agreed_tasks ADD COLUMN cost DECIMAL(19, 4) NULL;

-- What a project, or a deliverable or summary task of it, may cost: the subject is the id of either.
CREATE TABLE budgets (
  subject_id UUID NOT NULL PRIMARY KEY,
  project_id UUID NOT NULL,
  amount DECIMAL(19, 4) NOT NULL,
  KEY budgets_project (project_id),
  CONSTRAINT budgets_of FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE
);

-- Material that was used, or a sum that was spent, on a task on a day
CREATE TABLE expenses (
  id UUID NOT NULL PRIMARY KEY,
  project_id UUID NOT NULL,
  task_id UUID NOT NULL,
  resource_id UUID NULL,
  day DATE NOT NULL,
  units DECIMAL(15, 3) NULL,
  amount DECIMAL(19, 4) NULL,
  note VARCHAR(500) NOT NULL DEFAULT '',
  person_id UUID NOT NULL,
  revision INT UNSIGNED NOT NULL,
  deleted_at DATETIME(6) NULL,
  KEY expenses_task (task_id, deleted_at),
  KEY expenses_project (project_id, deleted_at, day),
  CONSTRAINT expenses_project_of FOREIGN KEY (project_id) REFERENCES projects (id),
  CONSTRAINT expenses_task_of FOREIGN KEY (task_id) REFERENCES tasks (id),
  CONSTRAINT expenses_by FOREIGN KEY (person_id) REFERENCES people (id)
);
