"""Long work in pieces, which goes on after a restart"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "jobs",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("account_id", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(length=20), nullable=False),
        sa.Column("title", sa.String(length=120), nullable=False),
        sa.Column("wanted", sa.JSON(), nullable=False),
        sa.Column("state", sa.String(length=10), nullable=False),
        sa.Column("created", mysql.DATETIME(fsp=6), nullable=False),
        sa.Column("ended", mysql.DATETIME(fsp=6), nullable=True),
        sa.ForeignKeyConstraint(
            ["account_id"], ["accounts.id"], name=op.f("fk_jobs_account_id_accounts")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_jobs")),
    )
    op.create_index(op.f("ix_jobs_account_id"), "jobs", ["account_id"])
    op.create_index(op.f("ix_jobs_state"), "jobs", ["state"])
    op.create_table(
        "job_items",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("job_id", sa.Integer(), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False),
        sa.Column("wanted", sa.JSON(), nullable=False),
        sa.Column("state", sa.String(length=10), nullable=False),
        sa.Column("result", sa.JSON(), nullable=True),
        sa.Column("file_digest", sa.String(length=64, collation="ascii_bin"), nullable=True),
        sa.Column("words", sa.String(length=500), nullable=False),
        sa.ForeignKeyConstraint(["job_id"], ["jobs.id"], name=op.f("fk_job_items_job_id_jobs")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_job_items")),
        sa.UniqueConstraint("job_id", "position", name=op.f("uq_job_items_job_id_position")),
    )
    op.create_index(
        op.f("ix_job_items_job_id_state_position"), "job_items", ["job_id", "state", "position"]
    )


def downgrade() -> None:
    op.drop_table("job_items")
    op.drop_table("jobs")
