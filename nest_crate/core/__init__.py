"""The job itself: sound documents, signal processing, rendering, measuring, open formats.

Rule of this folder: nothing here imports a web framework, a database, a file store or anything
from the packages above. It takes plain values and arrays and gives plain values and arrays back.
An import linter holds this.
"""
