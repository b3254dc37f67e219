-- A draft keeps tasks that the plan has not.
ALTER TABLE draft_tasks DROP FOREIGN KEY draft_tasks_task;
