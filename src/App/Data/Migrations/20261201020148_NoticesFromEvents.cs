using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DapperLantern.App.Data.Migrations
{
    /// <inheritdoc />
    public partial class NoticesFromEvents : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropForeignKey(
                name: "fk_deal_person_contacts_contact_id",
                table: "deal_person");

            migrationBuilder.RenameIndex(
                name: "ix_lead_last_touch_at_id2",
                table: "lead",
                newName: "ix_lead_last_touch_at_id3");

            migrationBuilder.RenameIndex(
                name: "ix_lead_last_touch_at_id1",
                table: "lead",
                newName: "ix_lead_last_touch_at_id2");

            migrationBuilder.AddColumn<long>(
                name: "event_id",
                table: "outbox",
                type: "bigint",
                nullable: true);

            migrationBuilder.CreateTable(
                name: "event_listener",
                columns: table => new
                {
                    kind = table.Column<string>(type: "text", nullable: false),
                    listener = table.Column<string>(type: "text", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_event_listener", x => new { x.kind, x.listener });
                });

            migrationBuilder.CreateIndex(
                name: "ix_outbox_event_id_person_id",
                table: "outbox",
                columns: new[] { "event_id", "person_id" },
                unique: true,
                filter: "event_id is not null");

            migrationBuilder.CreateIndex(
                name: "ix_lead_last_touch_at_id1",
                table: "lead",
                columns: new[] { "last_touch_at", "id" },
                filter: "state = 'qualified'")
                .Annotation("Npgsql:IndexInclude", new[] { "owner_id" });

            migrationBuilder.AddForeignKey(
                name: "fk_deal_person_contact_contact_id",
                table: "deal_person",
                column: "contact_id",
                principalTable: "contact",
                principalColumn: "id",
                onDelete: ReferentialAction.Cascade);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropForeignKey(
                name: "fk_deal_person_contact_contact_id",
                table: "deal_person");

            migrationBuilder.DropTable(
                name: "event_listener");

            migrationBuilder.DropIndex(
                name: "ix_outbox_event_id_person_id",
                table: "outbox");

            migrationBuilder.DropIndex(
                name: "ix_lead_last_touch_at_id1",
                table: "lead");

            migrationBuilder.DropColumn(
                name: "event_id",
                table: "outbox");

            migrationBuilder.RenameIndex(
                name: "ix_lead_last_touch_at_id3",
                table: "lead",
                newName: "ix_lead_last_touch_at_id2");

            migrationBuilder.RenameIndex(
                name: "ix_lead_last_touch_at_id2",
                table: "lead",
                newName: "ix_lead_last_touch_at_id1");

            migrationBuilder.AddForeignKey(
                name: "fk_deal_person_contacts_contact_id",
                table: "deal_person",
                column: "contact_id",
                principalTable: "contact",
                principalColumn: "id",
                onDelete: ReferentialAction.Cascade);
        }
    }
}
