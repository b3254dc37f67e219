"""Where it all runs: settings, database process, application, live updates, background worker, command line."""
