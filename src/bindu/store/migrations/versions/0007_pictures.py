"""Small pictures of scenes, for the list of them."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.mysql import MEDIUMBLOB

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None


def upgrade() -> None:
    # MariaDB keeps each statement by itself: it may be there already.
    if "pictures" in sa.inspect(op.get_bind()).get_table_names():
        return
    op.create_table(
        "pictures",
        sa.Column(
            "scene_id",
            sa.Integer,
            sa.ForeignKey("scenes.id", ondelete="CASCADE"),
            primary_key=True,
        ),
        sa.Column("revision", sa.Integer, nullable=False),
        sa.Column("image", MEDIUMBLOB, nullable=False),
        mysql_charset="utf8mb4",
        mysql_collate="utf8mb4_bin",
    )


def downgrade() -> None:
    op.drop_table("pictures")
