"""Libraries may have a vocabulary of their own"""

import sqlalchemy as sa
from alembic import op

revision = "0017"
down_revision = "0016"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("libraries", sa.Column("vocabulary", sa.Text(), nullable=True))


def downgrade() -> None:
    op.drop_column("libraries", "vocabulary")
