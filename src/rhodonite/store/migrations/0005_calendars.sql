-- More calendars than one in a project, for tasks that work other hours; and durations that run through nights.
ALTER TABLE calendars
  ADD COLUMN main BOOLEAN NOT NULL DEFAULT TRUE AFTER project_id,
  ADD KEY calendars_of_project (project_id, main),
  DROP KEY calendars_project;

ALTER TABLE tasks
  ADD COLUMN elapsed BOOLEAN NOT NULL DEFAULT FALSE AFTER duration,
  -- NULL: the project's own
  ADD COLUMN calendar_id UUID NULL AFTER elapsed,
  ADD CONSTRAINT tasks_calendar FOREIGN KEY (calendar_id) REFERENCES calendars (id) ON DELETE SET NULL;
