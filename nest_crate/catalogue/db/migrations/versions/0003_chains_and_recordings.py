"""Chains saved under a name, and recordings brought in from outside"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "saved_chains",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("account_id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(length=60), nullable=False),
        sa.Column("chain", sa.JSON(), nullable=False),
        sa.Column("created", mysql.DATETIME(fsp=6), nullable=False),
        sa.ForeignKeyConstraint(
            ["account_id"], ["accounts.id"], name=op.f("fk_saved_chains_account_id_accounts")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_saved_chains")),
        sa.UniqueConstraint("account_id", "name", name=op.f("uq_saved_chains_account_id_name")),
    )
    op.create_table(
        "recordings",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("account_id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(length=120), nullable=False),
        sa.Column("digest", sa.String(length=64, collation="ascii_bin"), nullable=False),
        sa.Column("length_s", sa.Double(), nullable=False),
        sa.Column("channels", sa.Integer(), nullable=False),
        sa.Column("sample_rate", sa.Integer(), nullable=False),
        sa.Column("created", mysql.DATETIME(fsp=6), nullable=False),
        sa.ForeignKeyConstraint(
            ["account_id"], ["accounts.id"], name=op.f("fk_recordings_account_id_accounts")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_recordings")),
        sa.UniqueConstraint("account_id", "digest", name=op.f("uq_recordings_account_id_digest")),
    )


def downgrade() -> None:
    op.drop_table("recordings")
    op.drop_table("saved_chains")
