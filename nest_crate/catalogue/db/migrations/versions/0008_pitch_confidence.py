"""How sure a note is, and on which kind of processor a take was rendered"""

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("samples", sa.Column("pitch_confidence", sa.Double(), nullable=True))
    op.add_column(
        "samples",
        sa.Column("several_notes", sa.Boolean(), nullable=False, server_default=sa.false()),
    )
    op.alter_column("samples", "several_notes", server_default=None, existing_type=sa.Boolean())
    op.add_column("takes", sa.Column("cpu_family", sa.String(length=60), nullable=True))


def downgrade() -> None:
    op.drop_column("takes", "cpu_family")
    op.drop_column("samples", "several_notes")
    op.drop_column("samples", "pitch_confidence")
