"""What a file that was brought in says about itself: note, loop, title"""

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None


def upgrade() -> None:
    for table in ("recordings", "samples"):
        op.add_column(table, sa.Column("details", sa.JSON(), nullable=True))
        op.execute(f"UPDATE {table} SET details = '{{}}'")
        op.alter_column(table, "details", existing_type=sa.JSON(), nullable=False)


def downgrade() -> None:
    for table in ("samples", "recordings"):
        op.drop_column(table, "details")
