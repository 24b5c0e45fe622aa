"""Accounts, libraries, sounds, takes, samples"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0001"
down_revision = None
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "accounts",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("handle", sa.String(length=60), nullable=False),
        sa.Column("name", sa.String(length=120), nullable=False),
        sa.Column("created", mysql.DATETIME(fsp=6), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_accounts")),
        sa.UniqueConstraint("handle", name=op.f("uq_accounts_handle")),
    )
    op.create_table(
        "libraries",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(length=120), nullable=False),
        sa.Column("description", sa.Text(), nullable=False),
        sa.Column("created", mysql.DATETIME(fsp=6), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_libraries")),
    )
    op.create_table(
        "members",
        sa.Column("library_id", sa.Integer(), nullable=False),
        sa.Column("account_id", sa.Integer(), nullable=False),
        sa.Column("role", sa.String(length=20), nullable=False),
        sa.ForeignKeyConstraint(
            ["account_id"], ["accounts.id"], name=op.f("fk_members_account_id_accounts")
        ),
        sa.ForeignKeyConstraint(
            ["library_id"], ["libraries.id"], name=op.f("fk_members_library_id_libraries")
        ),
        sa.PrimaryKeyConstraint("library_id", "account_id", name=op.f("pk_members")),
    )
    op.create_table(
        "sounds",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("library_id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(length=120), nullable=False),
        sa.Column("draft", sa.JSON(), nullable=False),
        sa.Column("draft_version", sa.Integer(), nullable=False),
        sa.Column("created", mysql.DATETIME(fsp=6), nullable=False),
        sa.Column("changed", mysql.DATETIME(fsp=6), nullable=False),
        sa.Column("changed_by_id", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(
            ["changed_by_id"], ["accounts.id"], name=op.f("fk_sounds_changed_by_id_accounts")
        ),
        sa.ForeignKeyConstraint(
            ["library_id"], ["libraries.id"], name=op.f("fk_sounds_library_id_libraries")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_sounds")),
    )
    op.create_table(
        "sound_revisions",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("sound_id", sa.Integer(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("document", sa.JSON(), nullable=False),
        sa.Column("digest", sa.String(length=64, collation="ascii_bin"), nullable=False),
        sa.Column("note", sa.String(length=500), nullable=False),
        sa.Column("created", mysql.DATETIME(fsp=6), nullable=False),
        sa.Column("created_by_id", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(
            ["created_by_id"],
            ["accounts.id"],
            name=op.f("fk_sound_revisions_created_by_id_accounts"),
        ),
        sa.ForeignKeyConstraint(
            ["sound_id"], ["sounds.id"], name=op.f("fk_sound_revisions_sound_id_sounds")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_sound_revisions")),
        sa.UniqueConstraint("sound_id", "number", name=op.f("uq_sound_revisions_sound_id_number")),
    )
    op.create_table(
        "takes",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("revision_id", sa.Integer(), nullable=False),
        sa.Column("hit", sa.JSON(), nullable=False),
        sa.Column("engine_version", sa.Integer(), nullable=False),
        sa.Column("sample_rate", sa.Integer(), nullable=False),
        sa.Column("file_digest", sa.String(length=64, collation="ascii_bin"), nullable=False),
        sa.Column("created", mysql.DATETIME(fsp=6), nullable=False),
        sa.Column("created_by_id", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(
            ["created_by_id"], ["accounts.id"], name=op.f("fk_takes_created_by_id_accounts")
        ),
        sa.ForeignKeyConstraint(
            ["revision_id"],
            ["sound_revisions.id"],
            name=op.f("fk_takes_revision_id_sound_revisions"),
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_takes")),
    )
    op.create_table(
        "samples",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("library_id", sa.Integer(), nullable=False),
        sa.Column("take_id", sa.Integer(), nullable=True),
        sa.Column("name", sa.String(length=120), nullable=False),
        sa.Column("file_digest", sa.String(length=64, collation="ascii_bin"), nullable=False),
        sa.Column("length_s", sa.Double(), nullable=False),
        sa.Column("channels", sa.Integer(), nullable=False),
        sa.Column("sample_rate", sa.Integer(), nullable=False),
        sa.Column("peak_db", sa.Double(), nullable=False),
        sa.Column("true_peak_db", sa.Double(), nullable=False),
        sa.Column("loudness_lufs", sa.Double(), nullable=False),
        sa.Column("fundamental_hz", sa.Double(), nullable=True),
        sa.Column("note", sa.String(length=4), nullable=True),
        sa.Column("cents", sa.Double(), nullable=True),
        sa.Column("outline", sa.LargeBinary(length=1024), nullable=False),
        sa.Column("created", mysql.DATETIME(fsp=6), nullable=False),
        sa.Column("created_by_id", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(
            ["created_by_id"], ["accounts.id"], name=op.f("fk_samples_created_by_id_accounts")
        ),
        sa.ForeignKeyConstraint(
            ["library_id"], ["libraries.id"], name=op.f("fk_samples_library_id_libraries")
        ),
        sa.ForeignKeyConstraint(["take_id"], ["takes.id"], name=op.f("fk_samples_take_id_takes")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_samples")),
    )
    op.create_index(op.f("ix_samples_file_digest"), "samples", ["file_digest"], unique=False)
    op.create_index(
        op.f("ix_samples_library_id_name"), "samples", ["library_id", "name"], unique=False
    )


def downgrade() -> None:
    op.drop_table("samples")
    op.drop_table("takes")
    op.drop_table("sound_revisions")
    op.drop_table("sounds")
    op.drop_table("members")
    op.drop_table("libraries")
    op.drop_table("accounts")
