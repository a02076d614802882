"""Records: PostgreSQL by plain SQL. One module per aggregate with its named queries beside it;
nothing here decides."""
