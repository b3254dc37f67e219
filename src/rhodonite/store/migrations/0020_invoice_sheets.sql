-- Hours of a project gathered to be charged. Once it is frozen under a number a sheet never changes; it can be cancelled.
CREATE TABLE invoices (
  id UUID NOT NULL PRIMARY KEY,
  project_id UUID NOT NULL,
  -- of the whole organisation; none while it is a draft
  number VARCHAR(40) NULL,
  client VARCHAR(200) NOT NULL,
  first_day DATE NOT NULL,
  last_day DATE NOT NULL,
  -- task or person
  grouped VARCHAR(10) NOT NULL,
  currency CHAR(3) NOT NULL,
  -- in a hundred
  tax DECIMAL(6, 3) NOT NULL DEFAULT 0,
  note VARCHAR(2000) NOT NULL DEFAULT '',
  issued DATE NULL,
  due DATE NULL,
  sheet_lines JSON NOT NULL DEFAULT '[]',
  frozen_at DATETIME(6) NULL,
  cancelled_at DATETIME(6) NULL,
  person_id UUID NOT NULL,
  at DATETIME(6) NOT NULL,
  deleted_at DATETIME(6) NULL,
  UNIQUE KEY invoices_number (number),
  KEY invoices_project (project_id, deleted_at),
  CONSTRAINT invoices_project_of FOREIGN KEY (project_id) REFERENCES projects (id),
  CONSTRAINT invoices_by FOREIGN KEY (person_id) REFERENCES people (id)
);

-- The sheet, and the line of it, on which an entry is charged: an entry is on one at most
ALTER TABLE time_entries ADD COLUMN invoice_id UUID NULL, ADD COLUMN invoice_line UUID NULL, ADD KEY time_entries_invoice (invoice_id);
