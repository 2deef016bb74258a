"""What is kept: rows in PostgreSQL and files in a blob store."""
