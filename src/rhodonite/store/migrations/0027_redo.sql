-- What takes a change back is found by the change that took it back: doing it again takes that away.
ALTER TABLE changes ADD KEY changes_undone_by (undone_by);
