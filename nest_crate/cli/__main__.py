"""``python -m nest_crate.cli``."""

from nest_crate.cli import main

main()
