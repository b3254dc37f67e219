-- Status reports: what was told about a project on a day, whole and as it was told. No row of it ever changes.
CREATE TABLE status_reports (
  id UUID NOT NULL PRIMARY KEY,
  project_id UUID NOT NULL,
  -- counts the reports of the project
  number INT NOT NULL,
  person_id UUID NOT NULL,
  at DATETIME(6) NOT NULL,
  since DATE NOT NULL,
  day DATE NOT NULL,
  body JSON NOT NULL,
  -- the number of the report that it corrects
  corrects INT NULL,
  UNIQUE KEY status_reports_number (project_id, number),
  CONSTRAINT status_reports_of FOREIGN KEY (project_id) REFERENCES projects (id),
  CONSTRAINT status_reports_by FOREIGN KEY (person_id) REFERENCES people (id)
);

CREATE TABLE status_report_readers (
  report_id UUID NOT NULL,
  person_id UUID NOT NULL,
  at DATETIME(6) NOT NULL,
  PRIMARY KEY (report_id, person_id),
  CONSTRAINT status_report_readers_report FOREIGN KEY (report_id) REFERENCES status_reports (id) ON DELETE CASCADE,
  CONSTRAINT status_report_readers_person FOREIGN KEY (person_id) REFERENCES people (id) ON DELETE CASCADE
);

-- What the reports of a project hold, on which rhythm they are written, and to whom they go
CREATE TABLE report_settings (
  project_id UUID NOT NULL PRIMARY KEY,
  sections JSON NOT NULL,
  indicators JSON NOT NULL,
  rhythm VARCHAR(12) CHARACTER SET ascii COLLATE ascii_bin NULL,
  people JSON NOT NULL,
  -- the day up to which its lead was reminded
  reminded DATE NULL,
  CONSTRAINT report_settings_of FOREIGN KEY (project_id) REFERENCES projects (id)
);
