"""Curve shapes of one's own"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "curve_shapes",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("account_id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(length=60), nullable=False),
        sa.Column("curve_name", sa.String(length=20), nullable=False),
        sa.Column("curve", sa.JSON(), nullable=False),
        sa.Column("created", mysql.DATETIME(fsp=6), nullable=False),
        sa.ForeignKeyConstraint(
            ["account_id"], ["accounts.id"], name=op.f("fk_curve_shapes_account_id_accounts")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_curve_shapes")),
        sa.UniqueConstraint("account_id", "name", name=op.f("uq_curve_shapes_account_id_name")),
    )


def downgrade() -> None:
    op.drop_table("curve_shapes")
