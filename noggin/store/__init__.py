"""What is kept: set-ups in SQLite. Queries take and give frozen records; documents pass as text."""
