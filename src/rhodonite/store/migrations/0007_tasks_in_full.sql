-- What hangs on a task: what is said, files, checklists, relations; what holds it; and who is told of it.
-- Each part has a column deleted_at, so that taking it away can be taken back.
ALTER TABLE tasks
  -- the task that holds it: when that is finished, it is held no more
  ADD COLUMN held_by_id UUID NULL AFTER held_since,
  -- working minutes that it was held before
  ADD COLUMN held_minutes INT NOT NULL DEFAULT 0 AFTER held_by_id,
  ADD COLUMN marks JSON NOT NULL DEFAULT '[]' AFTER pushes,
  -- values of the project's own fields: {"field id": value}
  ADD COLUMN own JSON NOT NULL DEFAULT '{}' AFTER marks,
  -- counted anew with each change to a part
  ADD COLUMN comments INT NOT NULL DEFAULT 0 AFTER own,
  ADD COLUMN files INT NOT NULL DEFAULT 0 AFTER comments,
  ADD COLUMN checks INT NOT NULL DEFAULT 0 AFTER files,
  ADD COLUMN checks_done INT NOT NULL DEFAULT 0 AFTER checks,
  MODIFY COLUMN kind VARCHAR(36) NOT NULL,
  DROP KEY tasks_words,
  ADD FULLTEXT KEY tasks_titles (title),
  ADD KEY tasks_held_by (held_by_id),
  ADD CONSTRAINT tasks_holder FOREIGN KEY (held_by_id) REFERENCES tasks (id) ON DELETE SET NULL;

-- Words of a task that stand elsewhere than in its title, for the search.
CREATE TABLE task_words (
  subject_id UUID NOT NULL PRIMARY KEY,
  task_id UUID NOT NULL,
  project_id UUID NOT NULL,
  -- description, comment, file or field
  source VARCHAR(12) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  words MEDIUMTEXT NOT NULL,
  KEY task_words_task (task_id),
  FULLTEXT KEY task_words_words (words),
  CONSTRAINT task_words_of FOREIGN KEY (task_id) REFERENCES tasks (id) ON DELETE CASCADE
);

INSERT INTO task_words (subject_id, task_id, project_id, source, words)
  SELECT id, id, project_id, 'description', description FROM tasks WHERE description <> '';

-- A description was plain text; now it is HTML.
UPDATE tasks SET description = CONCAT('<p>', REPLACE(REPLACE(REPLACE(REPLACE(description, '&', '&amp;'), '<', '&lt;'), '>', '&gt;'),
  '\n', '</p><p>'), '</p>') WHERE description <> '';

CREATE TABLE comments (
  id UUID NOT NULL PRIMARY KEY,
  task_id UUID NOT NULL,
  person_id UUID NOT NULL,
  at DATETIME(6) NOT NULL,
  body MEDIUMTEXT NOT NULL,
  -- the comment that it answers
  quotes_id UUID NULL,
  -- {"agree": ["person id"]}
  signs JSON NOT NULL DEFAULT '{}',
  edited_at DATETIME(6) NULL,
  resolved_at DATETIME(6) NULL,
  resolved_by UUID NULL,
  deleted_at DATETIME(6) NULL,
  KEY comments_task (task_id, at),
  CONSTRAINT comments_of FOREIGN KEY (task_id) REFERENCES tasks (id) ON DELETE CASCADE,
  CONSTRAINT comments_by FOREIGN KEY (person_id) REFERENCES people (id)
);

CREATE TABLE files (
  id UUID NOT NULL PRIMARY KEY,
  task_id UUID NOT NULL,
  person_id UUID NOT NULL,
  at DATETIME(6) NOT NULL,
  name VARCHAR(200) NOT NULL,
  media_type VARCHAR(100) NOT NULL,
  size BIGINT NOT NULL,
  -- an image within a text is shown there, and not among the attachments
  inline BOOLEAN NOT NULL DEFAULT FALSE,
  deleted_at DATETIME(6) NULL,
  KEY files_task (task_id, at),
  CONSTRAINT files_of FOREIGN KEY (task_id) REFERENCES tasks (id) ON DELETE CASCADE,
  CONSTRAINT files_by FOREIGN KEY (person_id) REFERENCES people (id)
);

-- The bytes of a file, in pieces: so they are written in one transaction with all else, and stand in every backup.
CREATE TABLE file_pieces (
  file_id UUID NOT NULL,
  position INT NOT NULL,
  piece MEDIUMBLOB NOT NULL,
  PRIMARY KEY (file_id, position),
  CONSTRAINT file_pieces_of FOREIGN KEY (file_id) REFERENCES files (id) ON DELETE CASCADE
);

CREATE TABLE checklists (
  id UUID NOT NULL PRIMARY KEY,
  task_id UUID NOT NULL,
  name VARCHAR(200) NOT NULL,
  place VARCHAR(120) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  deleted_at DATETIME(6) NULL,
  KEY checklists_task (task_id),
  CONSTRAINT checklists_of FOREIGN KEY (task_id) REFERENCES tasks (id) ON DELETE CASCADE
);

CREATE TABLE checks (
  id UUID NOT NULL PRIMARY KEY,
  task_id UUID NOT NULL,
  checklist_id UUID NOT NULL,
  text VARCHAR(500) NOT NULL,
  place VARCHAR(120) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  done_at DATETIME(6) NULL,
  done_by UUID NULL,
  deleted_at DATETIME(6) NULL,
  KEY checks_task (task_id),
  KEY checks_list (checklist_id),
  CONSTRAINT checks_of FOREIGN KEY (task_id) REFERENCES tasks (id) ON DELETE CASCADE,
  CONSTRAINT checks_in FOREIGN KEY (checklist_id) REFERENCES checklists (id) ON DELETE CASCADE
);

CREATE TABLE checklist_templates (
  id UUID NOT NULL PRIMARY KEY,
  project_id UUID NOT NULL,
  name VARCHAR(200) NOT NULL,
  items JSON NOT NULL,
  KEY checklist_templates_project (project_id),
  CONSTRAINT checklist_templates_of FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE
);

-- Relations besides links: this task is related to, duplicates, or comes from another.
CREATE TABLE relations (
  id UUID NOT NULL PRIMARY KEY,
  task_id UUID NOT NULL,
  to_id UUID NOT NULL,
  type VARCHAR(12) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  deleted_at DATETIME(6) NULL,
  KEY relations_task (task_id),
  KEY relations_to (to_id),
  CONSTRAINT relations_of FOREIGN KEY (task_id) REFERENCES tasks (id) ON DELETE CASCADE,
  CONSTRAINT relations_with FOREIGN KEY (to_id) REFERENCES tasks (id) ON DELETE CASCADE
);

-- What people said of following a task themselves; owner, helpers and writers follow without a row.
CREATE TABLE followers (
  task_id UUID NOT NULL,
  person_id UUID NOT NULL,
  -- follows, left or muted
  how VARCHAR(8) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  PRIMARY KEY (task_id, person_id),
  KEY followers_person (person_id),
  CONSTRAINT followers_of FOREIGN KEY (task_id) REFERENCES tasks (id) ON DELETE CASCADE,
  CONSTRAINT followers_by FOREIGN KEY (person_id) REFERENCES people (id) ON DELETE CASCADE
);

CREATE TABLE notices (
  id UUID NOT NULL PRIMARY KEY,
  person_id UUID NOT NULL,
  project_id UUID NOT NULL,
  -- NULL: it speaks of several tasks
  task_id UUID NULL,
  kind VARCHAR(12) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  -- why it reaches the person: owner, helper, follower, writer or named
  reason VARCHAR(12) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  by_id UUID NOT NULL,
  at DATETIME(6) NOT NULL,
  words VARCHAR(1000) NOT NULL,
  comment_id UUID NULL,
  read_at DATETIME(6) NULL,
  -- TRUE until the daily digest has told it
  for_digest BOOLEAN NOT NULL DEFAULT FALSE,
  KEY notices_person (person_id, read_at),
  KEY notices_latest (person_id, at),
  KEY notices_digest (for_digest, person_id),
  CONSTRAINT notices_to FOREIGN KEY (person_id) REFERENCES people (id) ON DELETE CASCADE,
  CONSTRAINT notices_project FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE,
  CONSTRAINT notices_task FOREIGN KEY (task_id) REFERENCES tasks (id) ON DELETE CASCADE,
  CONSTRAINT notices_by FOREIGN KEY (by_id) REFERENCES people (id)
);
