"""Tags of scenes."""

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None


def upgrade() -> None:
    columns = {column["name"] for column in sa.inspect(op.get_bind()).get_columns("scenes")}
    # MariaDB keeps each statement by itself: it may be there already.
    if "tags" not in columns:
        op.add_column(
            "scenes", sa.Column("tags", sa.String(600), nullable=False, server_default="")
        )


def downgrade() -> None:
    op.drop_column("scenes", "tags")
