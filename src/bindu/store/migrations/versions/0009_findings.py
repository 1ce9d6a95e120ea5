"""How much checks found in a scene."""

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None


def upgrade() -> None:
    columns = {column["name"] for column in sa.inspect(op.get_bind()).get_columns("scenes")}
    # MariaDB keeps each statement by itself: they may be there already.
    for name in {"findings", "checked"} - columns:
        op.add_column("scenes", sa.Column(name, sa.Integer))


def downgrade() -> None:
    op.drop_column("scenes", "findings")
    op.drop_column("scenes", "checked")
