"""Content-addressed audio files."""

from nest_crate.storage.files import AudioStore, FileMissing, StorageAway, StorageError

__all__ = ["AudioStore", "FileMissing", "StorageAway", "StorageError"]
