"""Words of the OpenAPI document: what groups of operations and numbers in addresses are."""

from __future__ import annotations

__all__ = ["ABOUT", "GROUPS", "PARAMETERS"]

ABOUT = """Everything that the app does, for programs. Sign in with a token (account menu, Tokens) \
as `Authorization: Bearer TOKEN`.

Errors are problem details (RFC 9457, `application/problem+json`) with a stable `code`; `problems` \
names the fields. Lengths are seconds, levels dB, frequencies hertz, notes MIDI numbers; the names \
of fields say so. What changes something names the version it started from, and is answered with \
409 where somebody else was faster."""

GROUPS = {
    "bench": "Render a sound and look at it: auditions, hits, checks, sources, chains, shapes",
    "sounds": "Documents of sounds: drafts, revisions, takes, files",
    "reference": "What every number of a document is, the document's schema, the server itself",
    "libraries": "Libraries and their samples: search, words, comments, requests, maintenance",
    "comparisons": "Sounds beside each other: where they differ, and blind tests",
    "try-outs": "Sounds where they will be used: loops, beds, kits, mixes",
    "batches": "Plans of many variations, their rounds and members",
    "releases": "What a library gives out: releases, exports, links",
    "shared": "What is seen by a link, without signing in",
    "people": "Accounts, sign-ins, invitations, tokens",
    "jobs": "Long work: renders of takes, batches, imports",
    "presence": "Who looks at the same thing, and whether it changed",
    "progress": "How far work is that answers at its end",
}

# By name, where a route does not say more.
PARAMETERS = {
    "account_id": "Number of the account",
    "batch_id": "Number of the batch",
    "binned": "What lies in the bin, in place of what does not",
    "chain_id": "Number of the kept chain",
    "comment_id": "Number of the comment",
    "digest": "SHA-256 of the file, as hexadecimal digits",
    "dither": "Triangular dither, for whole numbers of 16 and 24 bit",
    "download": "Sent to be saved, under its name",
    "file_format": "Format of the audio",
    "first": "Number of the first",
    "invitation_id": "Number of the invitation",
    "job_id": "Number of the job",
    "key": "Its key in the document",
    "kind": "Which kind",
    "last": "Number of the last",
    "library_id": "Number of the library, or its key",
    "link_id": "Number of the link",
    "number": "Its number, as it is listed",
    "position": "Its place in the job, from 0",
    "round_id": "Number of the round",
    "sample_format": "Format of the numbers",
    "sample_id": "Number of the sample",
    "sample_rate": "Samples a second, in Hz",
    "search_id": "Number of the saved search",
    "secret": "The secret of the link",
    "shape_id": "Number of the kept shape",
    "sign_in_id": "Number of the sign-in",
    "sound_id": "Number of the sound",
    "tempo_bpm": "Beats a minute",
    "token_id": "Number of the token",
    "tryout_id": "Number of the try-out",
    "version": "Version of the document",
    "wish_id": "Number of the request",
}
