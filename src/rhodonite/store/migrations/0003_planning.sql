-- Links and constraints. Dates that were typed before are kept as what they are now: no-earlier-than constraints.
CREATE TABLE links (
  to_id UUID NOT NULL,
  from_id UUID NOT NULL,
  link_type CHAR(2) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  -- minutes, negative for a lead; working minutes unless elapsed
  lag INT NOT NULL DEFAULT 0,
  elapsed BOOLEAN NOT NULL DEFAULT FALSE,
  position SMALLINT NOT NULL DEFAULT 0,
  PRIMARY KEY (to_id, from_id, link_type),
  KEY links_from (from_id),
  CONSTRAINT links_to FOREIGN KEY (to_id) REFERENCES tasks (id) ON DELETE CASCADE,
  CONSTRAINT links_of FOREIGN KEY (from_id) REFERENCES tasks (id) ON DELETE CASCADE
);

ALTER TABLE tasks
  ADD COLUMN constraint_type VARCHAR(20) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT 'asap' AFTER duration,
  ADD COLUMN constraint_at DATETIME NULL AFTER constraint_type;

UPDATE tasks SET constraint_type = 'start_no_earlier', constraint_at = start WHERE start IS NOT NULL AND kind <> 'milestone';
UPDATE tasks SET constraint_type = 'finish_no_earlier', constraint_at = finish
  WHERE finish IS NOT NULL AND (start IS NULL OR kind = 'milestone');

-- Agreed plans: frozen copies of dates, effort and duration under a name and a day. One of a project is current.
CREATE TABLE agreed_plans (
  id UUID NOT NULL PRIMARY KEY,
  project_id UUID NOT NULL,
  name VARCHAR(120) NOT NULL,
  day DATE NOT NULL,
  note VARCHAR(2000) NOT NULL DEFAULT '',
  is_current BOOLEAN NOT NULL DEFAULT FALSE,
  person_id UUID NOT NULL,
  at DATETIME(6) NOT NULL,
  KEY agreed_plans_project (project_id, is_current),
  CONSTRAINT agreed_plans_of FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE,
  CONSTRAINT agreed_plans_by FOREIGN KEY (person_id) REFERENCES people (id)
);

CREATE TABLE agreed_tasks (
  plan_id UUID NOT NULL,
  task_id UUID NOT NULL,
  start DATETIME NULL,
  finish DATETIME NULL,
  duration INT NULL,
  effort INT NULL,
  is_summary BOOLEAN NOT NULL DEFAULT FALSE,
  PRIMARY KEY (plan_id, task_id),
  CONSTRAINT agreed_tasks_of FOREIGN KEY (plan_id) REFERENCES agreed_plans (id) ON DELETE CASCADE,
  CONSTRAINT agreed_tasks_task FOREIGN KEY (task_id) REFERENCES tasks (id) ON DELETE CASCADE
);

-- Addresses under which a calendar can be subscribed to. The secret is kept as its hash; a withdrawn one answers no more.
CREATE TABLE subscriptions (
  id UUID NOT NULL PRIMARY KEY,
  person_id UUID NOT NULL,
  -- NULL: all work of the person
  project_id UUID NULL,
  secret_hash CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  at DATETIME(6) NOT NULL,
  UNIQUE KEY subscriptions_secret (secret_hash),
  KEY subscriptions_person (person_id),
  CONSTRAINT subscriptions_of FOREIGN KEY (person_id) REFERENCES people (id) ON DELETE CASCADE,
  CONSTRAINT subscriptions_project FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE
);
