-- The board in full: further workflows, steps, lanes, the backlog, limits and how long they were passed.
ALTER TABLE states
  -- of a definition; NULL: the main workflow
  ADD COLUMN workflow_id UUID NULL,
  -- a further step of a split stage: the state that is its first step
  ADD COLUMN step_of UUID NULL,
  ADD COLUMN step VARCHAR(60) NOT NULL DEFAULT '',
  -- of all steps of a stage; kept with the first
  ADD COLUMN column_limit INT NULL,
  ADD COLUMN entry_rule VARCHAR(1000) NOT NULL DEFAULT '',
  ADD COLUMN exit_rule VARCHAR(1000) NOT NULL DEFAULT '';

ALTER TABLE tasks
  ADD COLUMN lane_id UUID NULL,
  ADD COLUMN period_id UUID NULL;

ALTER TABLE projects
  ADD COLUMN workflow_name VARCHAR(60) NOT NULL DEFAULT 'Main',
  -- warn, ask or refuse
  ADD COLUMN limit_rule VARCHAR(8) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT 'warn',
  ADD COLUMN person_limit INT NULL;

-- When a limit was passed, and for how long.
CREATE TABLE limit_spells (
  id UUID NOT NULL PRIMARY KEY,
  project_id UUID NOT NULL,
  -- column, step, lane, cell or person, and of what: column:ID, cell:LANE:STATE
  place VARCHAR(90) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  since DATETIME(6) NOT NULL,
  until DATETIME(6) NULL,
  -- the most that stood there, and the limit at that time
  most INT NOT NULL,
  at_most INT NOT NULL,
  -- why it was passed, and who said so
  reason VARCHAR(300) NOT NULL DEFAULT '',
  person_id UUID NULL,
  KEY limit_spells_open (project_id, until),
  KEY limit_spells_place (project_id, place, since),
  CONSTRAINT limit_spells_of FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE
);
