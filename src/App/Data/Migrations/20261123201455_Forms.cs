using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DapperLantern.App.Data.Migrations
{
    /// <inheritdoc />
    public partial class Forms : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AlterColumn<Guid>(
                name: "person_id",
                table: "outbox",
                type: "uuid",
                nullable: true,
                oldClrType: typeof(Guid),
                oldType: "uuid");

            migrationBuilder.AddColumn<string>(
                name: "language",
                table: "outbox",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<Guid>(
                name: "lead_id",
                table: "outbox",
                type: "uuid",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "to_email",
                table: "outbox",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<Guid>(
                name: "ask",
                table: "consent",
                type: "uuid",
                nullable: true);

            migrationBuilder.CreateTable(
                name: "backfill",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    form_key = table.Column<string>(type: "text", nullable: false),
                    field = table.Column<string>(type: "text", nullable: false),
                    at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    person_id = table.Column<Guid>(type: "uuid", nullable: false),
                    leads = table.Column<int>(type: "integer", nullable: false),
                    changes = table.Column<string>(type: "jsonb", nullable: false),
                    undone_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_backfill", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "form",
                columns: table => new
                {
                    key = table.Column<string>(type: "text", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    source = table.Column<string>(type: "text", nullable: false),
                    paused = table.Column<bool>(type: "boolean", nullable: false),
                    draft = table.Column<string>(type: "jsonb", nullable: false),
                    created_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    version = table.Column<int>(type: "integer", nullable: false, defaultValue: 1)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_form", x => x.key);
                });

            migrationBuilder.CreateTable(
                name: "single_arrival",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    channel = table.Column<string>(type: "text", nullable: false),
                    source = table.Column<string>(type: "text", nullable: false),
                    campaign = table.Column<string>(type: "text", nullable: true),
                    form_key = table.Column<string>(type: "text", nullable: true),
                    form_edition = table.Column<int>(type: "integer", nullable: true),
                    at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    raw = table.Column<string>(type: "jsonb", nullable: false),
                    labels = table.Column<string>(type: "jsonb", nullable: false),
                    state = table.Column<string>(type: "text", nullable: false),
                    reasons = table.Column<string>(type: "jsonb", nullable: true),
                    outcome = table.Column<string>(type: "text", nullable: false),
                    reason = table.Column<string>(type: "text", nullable: false),
                    lead_id = table.Column<Guid>(type: "uuid", nullable: true),
                    key = table.Column<Guid>(type: "uuid", nullable: true),
                    text_key = table.Column<long>(type: "bigint", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_single_arrival", x => x.id);
                });

            migrationBuilder.CreateIndex(
                name: "ix_consent_ask",
                table: "consent",
                column: "ask",
                filter: "ask is not null");

            migrationBuilder.CreateIndex(
                name: "ix_single_arrival_form_key_at",
                table: "single_arrival",
                columns: new[] { "form_key", "at" },
                filter: "form_key is not null");

            migrationBuilder.CreateIndex(
                name: "ix_single_arrival_key",
                table: "single_arrival",
                column: "key",
                unique: true,
                filter: "key is not null");

            migrationBuilder.CreateIndex(
                name: "ix_single_arrival_lead_id",
                table: "single_arrival",
                column: "lead_id",
                filter: "lead_id is not null");

            migrationBuilder.CreateIndex(
                name: "ix_single_arrival_state_at",
                table: "single_arrival",
                columns: new[] { "state", "at" },
                filter: "state = 'waiting'");

            migrationBuilder.CreateIndex(
                name: "ix_single_arrival_text_key_at",
                table: "single_arrival",
                columns: new[] { "text_key", "at" },
                filter: "text_key is not null");

            // What was captured by key stays known, so that a sheet sent again is still kept once.
            migrationBuilder.Sql(
                "insert into single_arrival (id, channel, source, at, raw, labels, state, outcome, reason, lead_id, key) " +
                "select gen_random_uuid(), 'phone', l.source, c.at, '{}', '{}', 'taken', 'new', '', l.id, c.key from capture c join lead l on l.id = c.lead_id");

            migrationBuilder.DropTable(
                name: "capture");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "backfill");

            migrationBuilder.DropTable(
                name: "form");

            migrationBuilder.DropTable(
                name: "single_arrival");

            migrationBuilder.DropIndex(
                name: "ix_consent_ask",
                table: "consent");

            migrationBuilder.DropColumn(
                name: "language",
                table: "outbox");

            migrationBuilder.DropColumn(
                name: "lead_id",
                table: "outbox");

            migrationBuilder.DropColumn(
                name: "to_email",
                table: "outbox");

            migrationBuilder.DropColumn(
                name: "ask",
                table: "consent");

            migrationBuilder.AlterColumn<Guid>(
                name: "person_id",
                table: "outbox",
                type: "uuid",
                nullable: false,
                defaultValue: new Guid("00000000-0000-0000-0000-000000000000"),
                oldClrType: typeof(Guid),
                oldType: "uuid",
                oldNullable: true);

            migrationBuilder.CreateTable(
                name: "capture",
                columns: table => new
                {
                    key = table.Column<Guid>(type: "uuid", nullable: false),
                    at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    lead_id = table.Column<Guid>(type: "uuid", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_capture", x => x.key);
                });
        }
    }
}
