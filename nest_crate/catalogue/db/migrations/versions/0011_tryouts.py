"""Try-outs, mixes that were kept of them, and links to them"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0011"
down_revision = "0010"
branch_labels = None
depends_on = None

_MOMENT = mysql.DATETIME(fsp=6)
_DIGEST = sa.String(64, collation="ascii_bin")


def _refers(table: str, column: str, other: str) -> sa.ForeignKeyConstraint:
    name = f"fk_{table}_{column}_{other}"
    return sa.ForeignKeyConstraint([column], [f"{other}.id"], name=name)


def upgrade() -> None:
    op.create_table(
        "tryouts",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("library_id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(120), nullable=False),
        sa.Column("draft", sa.JSON(), nullable=False),
        sa.Column("draft_version", sa.Integer(), nullable=False),
        sa.Column("deleted", _MOMENT, nullable=True),
        sa.Column("created", _MOMENT, nullable=False),
        sa.Column("changed", _MOMENT, nullable=False),
        sa.Column("changed_by_id", sa.Integer(), nullable=False),
        _refers("tryouts", "library_id", "libraries"),
        _refers("tryouts", "changed_by_id", "accounts"),
    )
    op.create_index("ix_tryouts_library_id", "tryouts", ["library_id"])
    op.create_table(
        "kept_mixes",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("tryout_id", sa.Integer(), nullable=False),
        sa.Column("document", sa.JSON(), nullable=False),
        sa.Column("made_of", sa.JSON(), nullable=False),
        sa.Column("engine_version", sa.Integer(), nullable=False),
        sa.Column("cpu_family", sa.String(60), nullable=True),
        sa.Column("sample_rate", sa.Integer(), nullable=False),
        sa.Column("sample_id", sa.Integer(), nullable=False),
        sa.Column("file_digest", _DIGEST, nullable=False),
        sa.Column("created", _MOMENT, nullable=False),
        sa.Column("created_by_id", sa.Integer(), nullable=False),
        _refers("kept_mixes", "tryout_id", "tryouts"),
        _refers("kept_mixes", "sample_id", "samples"),
        _refers("kept_mixes", "created_by_id", "accounts"),
    )
    op.create_index("ix_kept_mixes_tryout_id", "kept_mixes", ["tryout_id"])
    op.create_index("ix_kept_mixes_sample_id", "kept_mixes", ["sample_id"])
    op.add_column("share_links", sa.Column("tryout_id", sa.Integer(), nullable=True))
    op.create_foreign_key(
        "fk_share_links_tryout_id_tryouts", "share_links", "tryouts", ["tryout_id"], ["id"]
    )


def downgrade() -> None:
    op.drop_constraint("fk_share_links_tryout_id_tryouts", "share_links", type_="foreignkey")
    # A link to what is not there any more would open nothing.
    op.execute("DELETE FROM share_links WHERE tryout_id IS NOT NULL")
    op.drop_column("share_links", "tryout_id")
    op.drop_table("kept_mixes")
    op.drop_table("tryouts")
