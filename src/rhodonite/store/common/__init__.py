"""The database itself, migrations, the journal, jobs and outgoing mail."""
