"""Releases are kept in the formats that they were asked for in"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0015"
down_revision = "0014"
branch_labels = None
depends_on = None

_MOMENT = mysql.DATETIME(fsp=6)
_DIGEST = sa.String(64, collation="ascii_bin")


def upgrade() -> None:
    op.create_table(
        "release_formats",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("release_id", sa.Integer(), nullable=False),
        sa.Column("plan_digest", _DIGEST, nullable=False),
        sa.Column("plan", sa.JSON(), nullable=False),
        sa.Column("manifest_digest", _DIGEST, nullable=False),
        sa.Column("created", _MOMENT, nullable=False),
        sa.Column("created_by_id", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(
            ["release_id"], ["releases.id"], name="fk_release_formats_release_id_releases"
        ),
        sa.ForeignKeyConstraint(
            ["created_by_id"], ["accounts.id"], name="fk_release_formats_created_by_id_accounts"
        ),
        sa.UniqueConstraint(
            "release_id", "plan_digest", name="uq_release_formats_release_id_plan_digest"
        ),
    )
    op.create_table(
        "release_format_items",
        sa.Column("format_id", sa.Integer(), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False),
        sa.Column("path", sa.String(255), nullable=False),
        sa.Column("file_digest", _DIGEST, nullable=False),
        sa.Column("size_bytes", sa.Integer(), nullable=False),
        sa.Column("facts", sa.JSON(), nullable=False),
        sa.PrimaryKeyConstraint("format_id", "position", name="pk_release_format_items"),
        sa.ForeignKeyConstraint(
            ["format_id"],
            ["release_formats.id"],
            name="fk_release_format_items_format_id_release_formats",
        ),
    )


def downgrade() -> None:
    op.drop_table("release_format_items")
    op.drop_table("release_formats")
