"""Content-addressed audio files."""

from nest_crate.storage.files import AudioStore, FileMissing, StorageError

__all__ = ["AudioStore", "FileMissing", "StorageError"]
