-- What uses of the program take turns by, where they change neither one project nor one row: a person’s hours, or something of
-- the whole organisation (whose id is all zeros). Nothing refers to these rows, so that no foreign key waits for them.
CREATE TABLE locks (
  id UUID NOT NULL PRIMARY KEY
);
