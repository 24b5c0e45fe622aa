"""Browsers that are signed in, tries that failed, recordings of sounds, why a link ended"""

import json

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None

_MOMENT = mysql.DATETIME(fsp=6)
_DIGEST = sa.String(64, collation="ascii_bin")


def upgrade() -> None:
    op.create_table(
        "sign_ins",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("secret_digest", _DIGEST, nullable=False),
        sa.Column("account_id", sa.Integer(), nullable=False),
        sa.Column("device", sa.String(200), nullable=False),
        sa.Column("address", sa.String(45), nullable=False),
        sa.Column("created", _MOMENT, nullable=False),
        sa.Column("last_seen", _MOMENT, nullable=False),
        sa.Column("expires", _MOMENT, nullable=False),
        sa.UniqueConstraint("secret_digest", name="uq_sign_ins_secret_digest"),
        sa.ForeignKeyConstraint(
            ["account_id"], ["accounts.id"], name="fk_sign_ins_account_id_accounts"
        ),
    )
    op.create_index("ix_sign_ins_account_id", "sign_ins", ["account_id"])
    op.create_table(
        "sign_in_tries",
        sa.Column("about", sa.String(120, collation="utf8mb4_bin"), primary_key=True),
        sa.Column("failed", sa.Integer(), nullable=False),
        sa.Column("last", _MOMENT, nullable=False),
    )
    op.create_table(
        "sound_files",
        sa.Column("sound_id", sa.Integer(), primary_key=True, autoincrement=False),
        sa.Column("digest", _DIGEST, primary_key=True),
        sa.ForeignKeyConstraint(
            ["sound_id"],
            ["sounds.id"],
            name="fk_sound_files_sound_id_sounds",
            ondelete="CASCADE",
        ),
    )
    op.create_index("ix_sound_files_digest", "sound_files", ["digest"])
    op.add_column(
        "share_links",
        sa.Column("ended_because", sa.String(80), nullable=False, server_default=""),
    )
    op.alter_column(
        "share_links",
        "ended_because",
        existing_type=sa.String(80),
        existing_nullable=False,
        server_default=None,
    )
    # Sessions lie in their own table now.
    op.drop_column("accounts", "session_stamp")
    _note_recordings()


def _note_recordings() -> None:
    """What sounds refer to already stays theirs."""
    connection = op.get_bind()
    for query in (
        "SELECT id, draft FROM sounds",
        "SELECT sound_id, document FROM sound_revisions",
    ):
        for sound_id, document in connection.execute(sa.text(query)).all():
            read = json.loads(document) if isinstance(document, str | bytes) else document
            for digest in _recordings_in(read):
                connection.execute(
                    sa.text("INSERT IGNORE INTO sound_files VALUES (:sound_id, :digest)"),
                    {"sound_id": sound_id, "digest": digest},
                )


def _recordings_in(value: object) -> set[str]:
    if isinstance(value, dict):
        own = value.get("recording")
        found = {own} if isinstance(own, str) and len(own) == 64 else set()
        return found.union(*(_recordings_in(one) for one in value.values()), set())
    if isinstance(value, list):
        return set().union(*(_recordings_in(one) for one in value), set())
    return set()


def downgrade() -> None:
    op.add_column(
        "accounts",
        sa.Column("session_stamp", sa.String(32), nullable=False, server_default=""),
    )
    op.alter_column(
        "accounts",
        "session_stamp",
        existing_type=sa.String(32),
        existing_nullable=False,
        server_default=None,
    )
    op.drop_column("share_links", "ended_because")
    op.drop_table("sound_files")
    op.drop_table("sign_in_tries")
    op.drop_table("sign_ins")
