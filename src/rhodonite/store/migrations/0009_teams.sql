-- Named groups of people.
CREATE TABLE teams (
  id UUID NOT NULL PRIMARY KEY,
  name VARCHAR(120) NOT NULL UNIQUE
);

CREATE TABLE team_members (
  team_id UUID NOT NULL,
  person_id UUID NOT NULL,
  PRIMARY KEY (team_id, person_id),
  CONSTRAINT team_members_of FOREIGN KEY (team_id) REFERENCES teams (id) ON DELETE CASCADE,
  CONSTRAINT team_members_are FOREIGN KEY (person_id) REFERENCES people (id)
);
