"""Lead groups and saved What ifs."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.mysql import LONGTEXT

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None

OPTIONS = {"mysql_charset": "utf8mb4", "mysql_collate": "utf8mb4_bin"}


THINGS = ("leads", "what_ifs")


def upgrade() -> None:
    for name in THINGS:
        scene = sa.ForeignKey("scenes.id", ondelete="CASCADE")
        op.create_table(
            name,
            sa.Column("scene_id", sa.Integer, scene, primary_key=True, autoincrement=False),
            sa.Column("thing", sa.String(100), primary_key=True),
            sa.Column("data", LONGTEXT, nullable=False),
            **OPTIONS,
        )


def downgrade() -> None:
    for name in THINGS:
        op.drop_table(name)
