"""What a catalogue asks of a sample: features, the map, tags."""
