"""Reports: one module per format; each turns results into text and prints nothing."""
