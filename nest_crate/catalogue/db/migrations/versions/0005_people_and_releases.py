"""Accounts that sign in, what people say of samples, searches, wishes, releases and links"""

from typing import Any

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None


def _add(table: str, name: str, kind: Any, value: str) -> None:
    """A column that may not be empty, with a value for the rows that are there."""
    op.add_column(table, sa.Column(name, kind, nullable=True))
    op.execute(f"UPDATE {table} SET {name} = {value}")
    op.alter_column(table, name, existing_type=kind, nullable=False)


def upgrade() -> None:
    op.create_table(
        "api_tokens",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("account_id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(length=60), nullable=False),
        sa.Column("token_digest", sa.String(length=64, collation="ascii_bin"), nullable=False),
        sa.Column("scope", sa.String(length=10), nullable=False),
        sa.Column("expires", mysql.DATETIME(fsp=6), nullable=False),
        sa.Column("last_used", mysql.DATETIME(fsp=6), nullable=True),
        sa.Column("created", mysql.DATETIME(fsp=6), nullable=False),
        sa.ForeignKeyConstraint(
            ["account_id"], ["accounts.id"], name=op.f("fk_api_tokens_account_id_accounts")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_api_tokens")),
        sa.UniqueConstraint("token_digest", name=op.f("uq_api_tokens_token_digest")),
    )
    op.create_table(
        "invitations",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("token_digest", sa.String(length=64, collation="ascii_bin"), nullable=False),
        sa.Column("made_by_id", sa.Integer(), nullable=False),
        sa.Column("library_id", sa.Integer(), nullable=True),
        sa.Column("role", sa.String(length=20), nullable=False),
        sa.Column("note", sa.String(length=200), nullable=False),
        sa.Column("expires", mysql.DATETIME(fsp=6), nullable=False),
        sa.Column("used", mysql.DATETIME(fsp=6), nullable=True),
        sa.Column("account_id", sa.Integer(), nullable=True),
        sa.Column("created", mysql.DATETIME(fsp=6), nullable=False),
        sa.ForeignKeyConstraint(
            ["account_id"], ["accounts.id"], name=op.f("fk_invitations_account_id_accounts")
        ),
        sa.ForeignKeyConstraint(
            ["library_id"], ["libraries.id"], name=op.f("fk_invitations_library_id_libraries")
        ),
        sa.ForeignKeyConstraint(
            ["made_by_id"], ["accounts.id"], name=op.f("fk_invitations_made_by_id_accounts")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_invitations")),
        sa.UniqueConstraint("token_digest", name=op.f("uq_invitations_token_digest")),
    )
    op.create_table(
        "releases",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("library_id", sa.Integer(), nullable=False),
        sa.Column("number", sa.String(length=20), nullable=False),
        sa.Column("note", sa.Text(), nullable=False),
        sa.Column("manifest_digest", sa.String(length=64, collation="ascii_bin"), nullable=False),
        sa.Column("created", mysql.DATETIME(fsp=6), nullable=False),
        sa.Column("created_by_id", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(
            ["created_by_id"], ["accounts.id"], name=op.f("fk_releases_created_by_id_accounts")
        ),
        sa.ForeignKeyConstraint(
            ["library_id"], ["libraries.id"], name=op.f("fk_releases_library_id_libraries")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_releases")),
        sa.UniqueConstraint("library_id", "number", name=op.f("uq_releases_library_id_number")),
    )
    op.create_table(
        "saved_searches",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("account_id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(length=60), nullable=False),
        sa.Column("query", sa.JSON(), nullable=False),
        sa.Column("created", mysql.DATETIME(fsp=6), nullable=False),
        sa.ForeignKeyConstraint(
            ["account_id"], ["accounts.id"], name=op.f("fk_saved_searches_account_id_accounts")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_saved_searches")),
        sa.UniqueConstraint("account_id", "name", name=op.f("uq_saved_searches_account_id_name")),
    )
    op.create_table(
        "release_items",
        sa.Column("release_id", sa.Integer(), nullable=False),
        sa.Column("position", sa.Integer(), autoincrement=False, nullable=False),
        sa.Column("sample_id", sa.Integer(), nullable=False),
        sa.Column("path", sa.String(length=255), nullable=False),
        sa.Column("file_digest", sa.String(length=64, collation="ascii_bin"), nullable=False),
        sa.Column("size_bytes", sa.Integer(), nullable=False),
        sa.Column("facts", sa.JSON(), nullable=False),
        sa.ForeignKeyConstraint(
            ["release_id"], ["releases.id"], name=op.f("fk_release_items_release_id_releases")
        ),
        sa.PrimaryKeyConstraint("release_id", "position", name=op.f("pk_release_items")),
    )
    op.create_index(
        op.f("ix_release_items_sample_id"), "release_items", ["sample_id"], unique=False
    )
    op.create_table(
        "comments",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("sample_id", sa.Integer(), nullable=False),
        sa.Column("account_id", sa.Integer(), nullable=False),
        sa.Column("at_s", sa.Double(), nullable=True),
        sa.Column("text", sa.Text(), nullable=False),
        sa.Column("created", mysql.DATETIME(fsp=6), nullable=False),
        sa.ForeignKeyConstraint(
            ["account_id"], ["accounts.id"], name=op.f("fk_comments_account_id_accounts")
        ),
        sa.ForeignKeyConstraint(
            ["sample_id"], ["samples.id"], name=op.f("fk_comments_sample_id_samples")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_comments")),
    )
    op.create_index(op.f("ix_comments_sample_id"), "comments", ["sample_id"], unique=False)
    op.create_table(
        "sample_edits",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("sample_id", sa.Integer(), nullable=False),
        sa.Column("account_id", sa.Integer(), nullable=False),
        sa.Column("gesture", sa.String(length=32), nullable=False),
        sa.Column("label", sa.String(length=120), nullable=False),
        sa.Column("changes", sa.JSON(), nullable=False),
        sa.Column("undone", sa.Boolean(), nullable=False),
        sa.Column("created", mysql.DATETIME(fsp=6), nullable=False),
        sa.ForeignKeyConstraint(
            ["account_id"], ["accounts.id"], name=op.f("fk_sample_edits_account_id_accounts")
        ),
        sa.ForeignKeyConstraint(
            ["sample_id"], ["samples.id"], name=op.f("fk_sample_edits_sample_id_samples")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_sample_edits")),
    )
    op.create_index(op.f("ix_sample_edits_gesture"), "sample_edits", ["gesture"], unique=False)
    op.create_index(op.f("ix_sample_edits_sample_id"), "sample_edits", ["sample_id"], unique=False)
    op.create_table(
        "share_links",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("token_digest", sa.String(length=64, collation="ascii_bin"), nullable=False),
        sa.Column("library_id", sa.Integer(), nullable=False),
        sa.Column("release_id", sa.Integer(), nullable=True),
        sa.Column("sample_id", sa.Integer(), nullable=True),
        sa.Column("note", sa.String(length=500), nullable=False),
        sa.Column("expires", mysql.DATETIME(fsp=6), nullable=False),
        sa.Column("revoked", sa.Boolean(), nullable=False),
        sa.Column("created", mysql.DATETIME(fsp=6), nullable=False),
        sa.Column("created_by_id", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(
            ["created_by_id"], ["accounts.id"], name=op.f("fk_share_links_created_by_id_accounts")
        ),
        sa.ForeignKeyConstraint(
            ["library_id"], ["libraries.id"], name=op.f("fk_share_links_library_id_libraries")
        ),
        sa.ForeignKeyConstraint(
            ["release_id"], ["releases.id"], name=op.f("fk_share_links_release_id_releases")
        ),
        sa.ForeignKeyConstraint(
            ["sample_id"], ["samples.id"], name=op.f("fk_share_links_sample_id_samples")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_share_links")),
        sa.UniqueConstraint("token_digest", name=op.f("uq_share_links_token_digest")),
    )
    op.create_table(
        "wishes",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("library_id", sa.Integer(), nullable=False),
        sa.Column("account_id", sa.Integer(), nullable=False),
        sa.Column("title", sa.String(length=120), nullable=False),
        sa.Column("text", sa.Text(), nullable=False),
        sa.Column("reference_digest", sa.String(length=64, collation="ascii_bin"), nullable=True),
        sa.Column("state", sa.String(length=12), nullable=False),
        sa.Column("sample_id", sa.Integer(), nullable=True),
        sa.Column("sound_id", sa.Integer(), nullable=True),
        sa.Column("created", mysql.DATETIME(fsp=6), nullable=False),
        sa.ForeignKeyConstraint(
            ["account_id"], ["accounts.id"], name=op.f("fk_wishes_account_id_accounts")
        ),
        sa.ForeignKeyConstraint(
            ["library_id"], ["libraries.id"], name=op.f("fk_wishes_library_id_libraries")
        ),
        sa.ForeignKeyConstraint(
            ["sample_id"], ["samples.id"], name=op.f("fk_wishes_sample_id_samples")
        ),
        sa.ForeignKeyConstraint(
            ["sound_id"], ["sounds.id"], name=op.f("fk_wishes_sound_id_sounds")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_wishes")),
    )
    op.create_index(op.f("ix_wishes_library_id"), "wishes", ["library_id"], unique=False)
    op.add_column("accounts", sa.Column("password_hash", sa.String(length=255), nullable=True))
    _add("accounts", "session_stamp", sa.String(length=32), "''")
    _add("accounts", "administrator", sa.Boolean(), "0")
    _add("accounts", "disabled", sa.Boolean(), "0")
    _add("libraries", "visibility", sa.String(length=10), "'shared'")
    _add("samples", "category", sa.String(length=40), "''")
    _add("samples", "subcategory", sa.String(length=40), "''")
    _add("samples", "tags", sa.JSON(), "'[]'")
    _add("samples", "description", sa.Text(), "''")
    _add("samples", "licence", sa.String(length=120), "''")
    _add("samples", "author", sa.String(length=120), "''")
    _add("samples", "rating", sa.Integer(), "0")
    _add("samples", "status", sa.String(length=12), "'draft'")
    _add("samples", "variation_group", sa.String(length=80), "''")
    op.add_column("samples", sa.Column("variation", sa.Integer(), nullable=True))
    _add("samples", "follows_key", sa.Boolean(), "0")
    op.add_column("samples", sa.Column("root_note", sa.Integer(), nullable=True))
    op.add_column("samples", sa.Column("tempo_bpm", sa.Double(), nullable=True))
    op.add_column("samples", sa.Column("loop_start_s", sa.Double(), nullable=True))
    op.add_column("samples", sa.Column("loop_end_s", sa.Double(), nullable=True))
    _add("samples", "edits", sa.JSON(), "'{}'")
    _add("samples", "decay_s", sa.Double(), "0")
    _add("samples", "brightness_hz", sa.Double(), "0")
    _add("samples", "noisiness", sa.Double(), "0")
    _add("samples", "low_share_db", sa.Double(), "0")
    _add("samples", "features", sa.LargeBinary(length=256), "''")
    _add("samples", "version", sa.Integer(), "1")
    op.add_column("samples", sa.Column("deleted", mysql.DATETIME(fsp=6), nullable=True))
    _add("samples", "changed", mysql.DATETIME(fsp=6), "'2026-01-01'")
    op.create_index(op.f("ix_samples_changed"), "samples", ["changed"], unique=False)
    _add("sounds", "category", sa.String(length=40), "''")
    _add("sounds", "tags", sa.JSON(), "'[]'")
    _add("sounds", "description", sa.Text(), "''")
    op.add_column("sounds", sa.Column("deleted", mysql.DATETIME(fsp=6), nullable=True))
    op.execute("UPDATE samples SET changed = created")
    op.execute("UPDATE members SET role = 'listener' WHERE role = 'reader'")
    # The only person there before keeps all rights.
    op.execute("UPDATE accounts SET administrator = 1 WHERE handle = 'demo'")


def downgrade() -> None:
    op.execute("UPDATE members SET role = 'reader' WHERE role IN ('listener', 'reviewer')")
    op.drop_column("sounds", "deleted")
    op.drop_column("sounds", "description")
    op.drop_column("sounds", "tags")
    op.drop_column("sounds", "category")
    op.drop_index(op.f("ix_samples_changed"), table_name="samples")
    op.drop_column("samples", "changed")
    op.drop_column("samples", "deleted")
    op.drop_column("samples", "version")
    op.drop_column("samples", "features")
    op.drop_column("samples", "low_share_db")
    op.drop_column("samples", "noisiness")
    op.drop_column("samples", "brightness_hz")
    op.drop_column("samples", "decay_s")
    op.drop_column("samples", "edits")
    op.drop_column("samples", "loop_end_s")
    op.drop_column("samples", "loop_start_s")
    op.drop_column("samples", "tempo_bpm")
    op.drop_column("samples", "root_note")
    op.drop_column("samples", "follows_key")
    op.drop_column("samples", "variation")
    op.drop_column("samples", "variation_group")
    op.drop_column("samples", "status")
    op.drop_column("samples", "rating")
    op.drop_column("samples", "author")
    op.drop_column("samples", "licence")
    op.drop_column("samples", "description")
    op.drop_column("samples", "tags")
    op.drop_column("samples", "subcategory")
    op.drop_column("samples", "category")
    op.drop_column("libraries", "visibility")
    op.drop_column("accounts", "disabled")
    op.drop_column("accounts", "administrator")
    op.drop_column("accounts", "session_stamp")
    op.drop_column("accounts", "password_hash")
    op.drop_table("wishes")
    op.drop_table("share_links")
    op.drop_table("sample_edits")
    op.drop_table("comments")
    op.drop_table("release_items")
    op.drop_table("saved_searches")
    op.drop_table("releases")
    op.drop_table("invitations")
    op.drop_table("api_tokens")
