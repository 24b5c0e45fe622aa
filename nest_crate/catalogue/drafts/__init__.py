"""Documents of a library that save themselves: try-outs and batches."""
