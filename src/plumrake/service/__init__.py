"""The service: FastAPI over actions and records. Routes parse, call one thing, shape the answer."""
