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
