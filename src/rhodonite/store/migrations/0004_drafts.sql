-- Drafts: changes kept beside the plan under a name.
CREATE TABLE drafts (
  id UUID NOT NULL PRIMARY KEY,
  project_id UUID NOT NULL,
  name VARCHAR(120) NOT NULL,
  person_id UUID NOT NULL,
  shared BOOLEAN NOT NULL DEFAULT FALSE,
  version INT NOT NULL DEFAULT 0,
  at DATETIME(6) NOT NULL,
  -- the change by which it was applied: while that stands, the draft is done
  applied UUID NULL,
  deleted_at DATETIME(6) NULL,
  KEY drafts_project (project_id),
  CONSTRAINT drafts_of FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE,
  CONSTRAINT drafts_by FOREIGN KEY (person_id) REFERENCES people (id)
);

-- What a draft keeps of each task: a JSON object, by field what it was in the plan and what it is to be.
CREATE TABLE draft_tasks (
  draft_id UUID NOT NULL,
  task_id UUID NOT NULL,
  kept MEDIUMTEXT NOT NULL,
  PRIMARY KEY (draft_id, task_id),
  CONSTRAINT draft_tasks_of FOREIGN KEY (draft_id) REFERENCES drafts (id) ON DELETE CASCADE,
  CONSTRAINT draft_tasks_task FOREIGN KEY (task_id) REFERENCES tasks (id) ON DELETE CASCADE
);
