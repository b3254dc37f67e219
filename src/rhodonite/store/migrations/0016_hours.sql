-- Hours of people: who can be booked when, what is booked on a task, and which projects plan by it.
ALTER TABLE projects ADD COLUMN hours BOOLEAN NOT NULL DEFAULT FALSE;

-- [["who", minutes, "even", [minutes by day], false], ...]: a plan is read as a whole, and so are its bookings
ALTER TABLE tasks ADD COLUMN bookings JSON NOT NULL DEFAULT '[]', ADD COLUMN keeps VARCHAR(8) NULL;

-- What holds for all who can be booked. The mark is another with every change to capacities, absences and resources.
CREATE TABLE bookable (
  id TINYINT NOT NULL PRIMARY KEY CHECK (id = 1),
  mark UUID NOT NULL DEFAULT UUID(),
  -- as in calendars; none: office hours
  week JSON NULL,
  exceptions JSON NOT NULL DEFAULT '[]',
  -- names of the kinds of absence that the organisation has beside those that every one has
  absence_kinds JSON NOT NULL DEFAULT '[]'
);

CREATE TABLE capacities (
  person_id UUID NOT NULL PRIMARY KEY,
  week JSON NULL,
  share SMALLINT NOT NULL,
  first_day DATE NULL,
  last_day DATE NULL,
  CONSTRAINT capacities_of FOREIGN KEY (person_id) REFERENCES people (id) ON DELETE CASCADE
);

CREATE TABLE absences (
  id UUID NOT NULL PRIMARY KEY,
  person_id UUID NOT NULL,
  kind VARCHAR(60) NOT NULL,
  -- local, as the dates of a plan
  start DATETIME NOT NULL,
  end DATETIME NOT NULL,
  note VARCHAR(300) NOT NULL,
  deleted_at DATETIME(6) NULL,
  KEY absences_person (person_id, deleted_at, end),
  CONSTRAINT absences_of FOREIGN KEY (person_id) REFERENCES people (id) ON DELETE CASCADE
);

-- What can be booked and signs in nowhere: a crew, or a role to be filled. Without a project it is the organisation's.
CREATE TABLE resources (
  id UUID NOT NULL PRIMARY KEY,
  project_id UUID NULL,
  name VARCHAR(120) NOT NULL,
  people DECIMAL(6, 2) NOT NULL,
  deleted_at DATETIME(6) NULL,
  KEY resources_project (project_id, deleted_at),
  CONSTRAINT resources_of FOREIGN KEY (project_id) REFERENCES projects (id) ON DELETE CASCADE
);
