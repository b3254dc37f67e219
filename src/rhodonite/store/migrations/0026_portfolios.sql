-- Portfolios: a project that joins others, with larger items of its own.
ALTER TABLE projects ADD COLUMN portfolio BOOLEAN NOT NULL DEFAULT FALSE;

CREATE TABLE portfolio_parts (
  id UUID NOT NULL PRIMARY KEY,
  portfolio_id UUID NOT NULL,
  -- the project, or the portfolio, that it joins
  part_id UUID NOT NULL,
  place VARCHAR(120) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  -- what is shown of it: deliverables, kind:… or level:…
  shows VARCHAR(80) NOT NULL DEFAULT 'deliverables',
  -- by a state of the part the state of the portfolio in whose column it stands; else by class
  states JSON NOT NULL DEFAULT '{}',
  deleted_at DATETIME(6) NULL,
  KEY portfolio_parts_of (portfolio_id, part_id),
  KEY portfolio_parts_in (part_id),
  CONSTRAINT portfolio_parts_portfolio FOREIGN KEY (portfolio_id) REFERENCES projects (id) ON DELETE CASCADE,
  CONSTRAINT portfolio_parts_part FOREIGN KEY (part_id) REFERENCES projects (id) ON DELETE CASCADE
);
