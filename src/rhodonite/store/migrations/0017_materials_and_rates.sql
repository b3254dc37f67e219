-- A resource is labour (a crew, a role to be filled), material that is used by the unit, or a cost that is fixed.
ALTER TABLE resources ADD COLUMN kind VARCHAR(10) NOT NULL DEFAULT 'labour', ADD COLUMN unit VARCHAR(20) NOT NULL DEFAULT '';

-- What holds for all: the currency of rates, and the days on which nobody works, as exceptions of calendars.
ALTER TABLE bookable DROP COLUMN IF EXISTS exceptions, ADD COLUMN currency CHAR(3) NOT NULL DEFAULT 'EUR', ADD COLUMN closed JSON NOT NULL DEFAULT '[]';

-- The amount that an hour of a person or crew costs or is charged at, or a unit of a material costs, from a day on.
CREATE TABLE rates (
  who UUID NOT NULL,
  kind VARCHAR(10) NOT NULL,
  -- 1000-01-01 for one that holds from the beginning
  first_day DATE NOT NULL,
  amount DECIMAL(15, 4) NOT NULL,
  PRIMARY KEY (who, kind, first_day)
);

-- Projects in which the time of a task's only person drives its dates
ALTER TABLE projects ADD COLUMN own_time BOOLEAN NOT NULL DEFAULT FALSE;
