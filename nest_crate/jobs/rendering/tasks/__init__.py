"""What a render worker can do, by name."""

from nest_crate.jobs.rendering.tasks import (
    auditions,
    comparing,
    families,
    hits,
    looks,
    sources,
    tryouts,
)
from nest_crate.jobs.rendering.workshop import Task

__all__ = ["TASKS"]

TASKS: dict[str, Task] = {
    "hear": auditions.hear,
    "look": auditions.look,
    "details": looks.look_closely,
    "probe": looks.probe,
    "repeats": looks.repeats,
    "contributions": looks.contributions,
    "processor": looks.processor,
    "register": looks.look_over,
    "difference": looks.compare,
    "compare_sides": comparing.compare,
    "hear_side": comparing.hear,
    "play": hits.play,
    "phrase": hits.phrase,
    "source": sources.look_at,
    "propose": sources.propose,
    "reference": sources.beside_reference,
    "family_member": families.member,
    "family_probe": families.probe,
    "family_suggest": families.suggest,
    "tryout_hit": tryouts.hit,
    "tryout_bed": tryouts.bed,
    "tryout_mix": tryouts.mix,
    "tryout_stems": tryouts.stems,
    "tryout_overlap": tryouts.overlap,
    "tryout_levels": tryouts.levels,
    "tryout_kit": tryouts.kit,
}
