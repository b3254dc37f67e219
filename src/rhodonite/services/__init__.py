"""What people do: read rows, ask the core, write rows and journal in one transaction. Permissions are checked here."""
