"""What leaves a library: exports, releases and links."""
