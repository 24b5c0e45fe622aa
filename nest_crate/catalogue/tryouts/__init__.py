"""Try-outs: documents in a library, what their parts play, mixes that are kept."""
