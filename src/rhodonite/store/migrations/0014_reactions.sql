-- What people gave a comment is called by its usual name; what the journal recorded of it is found under that name too.
ALTER TABLE comments CHANGE signs reactions JSON NOT NULL DEFAULT '{}';
UPDATE journal SET field = 'reactions' WHERE subject = 'comment' AND field = 'signs';
