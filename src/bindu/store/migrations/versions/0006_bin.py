"""When a scene was put into the bin."""

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None


def upgrade() -> None:
    columns = {column["name"] for column in sa.inspect(op.get_bind()).get_columns("scenes")}
    # MariaDB keeps each statement by itself: it may be there already.
    if "binned" not in columns:
        op.add_column("scenes", sa.Column("binned", sa.DateTime, nullable=True))


def downgrade() -> None:
    op.drop_column("scenes", "binned")
