"""The command line: terminal input and output only. Served commands talk to the service through the
client library."""
