using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DapperLantern.App.Data.Migrations
{
    /// <inheritdoc />
    public partial class BulkEdits : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "bulk_edit",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    person_id = table.Column<Guid>(type: "uuid", nullable: false),
                    act = table.Column<string>(type: "jsonb", nullable: false),
                    words = table.Column<string>(type: "text", nullable: false),
                    own_only = table.Column<bool>(type: "boolean", nullable: false),
                    state = table.Column<string>(type: "text", nullable: false),
                    request_key = table.Column<string>(type: "text", nullable: true),
                    created_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    done_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    undone_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    leads = table.Column<int>(type: "integer", nullable: false),
                    looked = table.Column<int>(type: "integer", nullable: false),
                    changed = table.Column<int>(type: "integer", nullable: false),
                    left_alone = table.Column<int>(type: "integer", nullable: false),
                    restored = table.Column<int>(type: "integer", nullable: false),
                    tries = table.Column<int>(type: "integer", nullable: false),
                    trouble = table.Column<string>(type: "text", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_bulk_edit", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "bulk_lead",
                columns: table => new
                {
                    bulk_id = table.Column<Guid>(type: "uuid", nullable: false),
                    position = table.Column<int>(type: "integer", nullable: false),
                    lead_id = table.Column<Guid>(type: "uuid", nullable: false),
                    outcome = table.Column<string>(type: "text", nullable: true),
                    why = table.Column<string>(type: "text", nullable: true),
                    kept = table.Column<string>(type: "jsonb", nullable: true),
                    restored = table.Column<bool>(type: "boolean", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_bulk_lead", x => new { x.bulk_id, x.position });
                    table.ForeignKey(
                        name: "fk_bulk_lead_bulk_edit_bulk_id",
                        column: x => x.bulk_id,
                        principalTable: "bulk_edit",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "ix_bulk_edit_created_at",
                table: "bulk_edit",
                column: "created_at",
                descending: new bool[0]);

            migrationBuilder.CreateIndex(
                name: "ix_bulk_edit_person_id_request_key",
                table: "bulk_edit",
                columns: new[] { "person_id", "request_key" },
                unique: true,
                filter: "request_key is not null");

            migrationBuilder.CreateIndex(
                name: "ix_bulk_edit_state",
                table: "bulk_edit",
                column: "state",
                filter: "state in ('doing', 'undoing')");

            migrationBuilder.CreateIndex(
                name: "ix_bulk_lead_lead_id",
                table: "bulk_lead",
                column: "lead_id");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "bulk_lead");

            migrationBuilder.DropTable(
                name: "bulk_edit");
        }
    }
}
