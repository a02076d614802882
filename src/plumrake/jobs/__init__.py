"""The job queue: procrastinate in the same PostgreSQL, tasks of a few lines that call actions."""
