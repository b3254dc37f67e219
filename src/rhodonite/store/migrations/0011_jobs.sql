-- What takes long runs in the worker, with progress and cancel.
CREATE TABLE jobs (
  id UUID NOT NULL PRIMARY KEY,
  kind VARCHAR(40) NOT NULL,
  project_id UUID NULL,
  person_id UUID NOT NULL,
  change_id UUID NOT NULL,
  input LONGTEXT NOT NULL,
  file LONGBLOB NULL,
  stage ENUM('waiting', 'running', 'done', 'refused', 'cancelled') NOT NULL DEFAULT 'waiting',
  doing VARCHAR(80) NOT NULL DEFAULT '',
  percent TINYINT UNSIGNED NOT NULL DEFAULT 0,
  answer LONGTEXT NULL,
  made_at DATETIME(6) NOT NULL,
  ended_at DATETIME(6) NULL,
  KEY jobs_stage (stage, made_at),
  KEY jobs_person (person_id, made_at),
  CONSTRAINT jobs_of FOREIGN KEY (person_id) REFERENCES people (id) ON DELETE CASCADE,
  CONSTRAINT jobs_in FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE
);
