-- How much of what it counted a goal had reached when it was closed: from then on that stands still too.
ALTER TABLE goals ADD COLUMN closed_done DECIMAL(19, 4) NULL, ADD COLUMN closed_total DECIMAL(19, 4) NULL;
