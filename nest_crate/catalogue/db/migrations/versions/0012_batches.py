"""Batches with their rounds and members; takes of members keep what they override"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0012"
down_revision = "0011"
branch_labels = None
depends_on = None

_MOMENT = mysql.DATETIME(fsp=6)
_DIGEST = sa.String(64, collation="ascii_bin")


def _refers(table: str, column: str, other: str) -> sa.ForeignKeyConstraint:
    name = f"fk_{table}_{column}_{other}"
    return sa.ForeignKeyConstraint([column], [f"{other}.id"], name=name)


def upgrade() -> None:
    op.create_table(
        "batches",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("library_id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(120), nullable=False),
        sa.Column("draft", sa.JSON(), nullable=False),
        sa.Column("draft_version", sa.Integer(), nullable=False),
        sa.Column("deleted", _MOMENT, nullable=True),
        sa.Column("created", _MOMENT, nullable=False),
        sa.Column("changed", _MOMENT, nullable=False),
        sa.Column("changed_by_id", sa.Integer(), nullable=False),
        _refers("batches", "library_id", "libraries"),
        _refers("batches", "changed_by_id", "accounts"),
    )
    op.create_index("ix_batches_library_id", "batches", ["library_id"])
    op.create_table(
        "batch_rounds",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("batch_id", sa.Integer(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("parent_id", sa.Integer(), nullable=True),
        sa.Column("picked", sa.JSON(), nullable=False),
        sa.Column("plan", sa.JSON(), nullable=False),
        sa.Column("revisions", sa.JSON(), nullable=False),
        sa.Column("redrawn", sa.JSON(), nullable=False),
        sa.Column("count", sa.Integer(), nullable=False),
        sa.Column("originals", sa.JSON(), nullable=False),
        sa.Column("job_id", sa.Integer(), nullable=True),
        sa.Column("engine_version", sa.Integer(), nullable=False),
        sa.Column("created", _MOMENT, nullable=False),
        sa.Column("created_by_id", sa.Integer(), nullable=False),
        _refers("batch_rounds", "batch_id", "batches"),
        _refers("batch_rounds", "created_by_id", "accounts"),
        sa.UniqueConstraint("batch_id", "number", name="uq_batch_rounds_batch_id_number"),
    )
    op.create_index("ix_batch_rounds_batch_id", "batch_rounds", ["batch_id"])
    op.create_table(
        "batch_members",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("round_id", sa.Integer(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("words", sa.String(500), nullable=False),
        sa.Column("verdict", sa.String(8), nullable=False),
        sa.Column("starred", sa.Boolean(), nullable=False),
        sa.Column("times", sa.Integer(), nullable=False),
        sa.Column("overrides", sa.JSON(), nullable=False),
        sa.Column("hit", sa.JSON(), nullable=False),
        sa.Column("sample_rate", sa.Integer(), nullable=False),
        sa.Column("file_digest", _DIGEST, nullable=True),
        sa.Column("edits", sa.JSON(), nullable=False),
        sa.Column("flags", sa.String(120), nullable=False),
        sa.Column("figures", sa.JSON(), nullable=False),
        sa.Column("vector", sa.LargeBinary(256), nullable=False),
        sa.Column("outline", sa.LargeBinary(1024), nullable=False),
        sa.Column("strip", sa.LargeBinary(2048), nullable=False),
        sa.Column("measured", sa.JSON(), nullable=False),
        sa.Column("cpu_family", sa.String(60), nullable=True),
        sa.Column("sample_id", sa.Integer(), nullable=True),
        _refers("batch_members", "round_id", "batch_rounds"),
        sa.UniqueConstraint("round_id", "number", name="uq_batch_members_round_id_number"),
    )
    op.create_index("ix_batch_members_round_id", "batch_members", ["round_id"])
    op.create_index("ix_batch_members_file_digest", "batch_members", ["file_digest"])
    op.add_column("takes", sa.Column("overrides", sa.JSON(), nullable=True))


def downgrade() -> None:
    op.drop_column("takes", "overrides")
    op.drop_table("batch_members")
    op.drop_table("batch_rounds")
    op.drop_table("batches")
