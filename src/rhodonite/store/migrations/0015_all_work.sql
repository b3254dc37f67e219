-- The lens over all projects has a name of its own, also where sheets were kept of it before.
UPDATE sheets SET view = JSON_SET(view, '$.lens', 'all_work') WHERE JSON_VALUE(view, '$.lens') = 'everything';
UPDATE journal SET old = JSON_SET(old, '$.lens', 'all_work')
  WHERE subject = 'sheet' AND field = 'view' AND JSON_VALUE(old, '$.lens') = 'everything';
UPDATE journal SET new = JSON_SET(new, '$.lens', 'all_work')
  WHERE subject = 'sheet' AND field = 'view' AND JSON_VALUE(new, '$.lens') = 'everything';

-- The lenses that stand in the sheet bar of a project, with commas between.
ALTER TABLE projects ADD COLUMN lenses VARCHAR(200) NOT NULL DEFAULT 'brief,outline,board,schedule';
