using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DapperLantern.App.Data.Migrations
{
    /// <inheritdoc />
    public partial class ValueMerges : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "value_merge",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    list = table.Column<string>(type: "text", nullable: false),
                    from_key = table.Column<string>(type: "text", nullable: false),
                    from_body = table.Column<string>(type: "jsonb", nullable: false),
                    position = table.Column<int>(type: "integer", nullable: false),
                    into_key = table.Column<string>(type: "text", nullable: false),
                    moved = table.Column<string>(type: "jsonb", nullable: false),
                    records = table.Column<int>(type: "integer", nullable: false),
                    at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    by_id = table.Column<Guid>(type: "uuid", nullable: false),
                    undone_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_value_merge", x => x.id);
                });

            migrationBuilder.CreateIndex(
                name: "ix_lead_lost_to",
                table: "lead",
                column: "lost_to",
                filter: "lost_to is not null");

            migrationBuilder.CreateIndex(
                name: "ix_lead_state_reason",
                table: "lead",
                column: "state_reason",
                filter: "state_reason is not null");

            migrationBuilder.CreateIndex(
                name: "ix_value_merge_at",
                table: "value_merge",
                column: "at");

            migrationBuilder.Sql("alter table value_merge add constraint fk_value_merge_by_id foreign key (by_id) references person (id) deferrable initially deferred;");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "value_merge");

            migrationBuilder.DropIndex(
                name: "ix_lead_lost_to",
                table: "lead");

            migrationBuilder.DropIndex(
                name: "ix_lead_state_reason",
                table: "lead");
        }
    }
}
