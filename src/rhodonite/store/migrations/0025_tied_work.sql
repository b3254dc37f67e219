-- Which tasks are tied to which tasks of other projects: the other side of fields of type tied.
CREATE TABLE ties (
  item_id UUID NOT NULL,
  field_id UUID NOT NULL,
  task_id UUID NOT NULL,
  item_project UUID NOT NULL,
  task_project UUID NOT NULL,
  PRIMARY KEY (item_id, field_id, task_id),
  KEY ties_task (task_project, task_id),
  CONSTRAINT ties_item FOREIGN KEY (item_id) REFERENCES tasks (id) ON DELETE CASCADE,
  CONSTRAINT ties_of FOREIGN KEY (task_id) REFERENCES tasks (id) ON DELETE CASCADE
);
