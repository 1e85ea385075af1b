using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DapperLantern.App.Data.Migrations
{
    /// <inheritdoc />
    public partial class MendFirst : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<int>(
                name: "changes",
                table: "task",
                type: "integer",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<string>(
                name: "numbers",
                table: "person",
                type: "text",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<DateTime>(
                name: "claimed_at",
                table: "outbox",
                type: "timestamp with time zone",
                nullable: true);

            migrationBuilder.AddColumn<DateTime>(
                name: "given_up_at",
                table: "outbox",
                type: "timestamp with time zone",
                nullable: true);

            migrationBuilder.AddColumn<DateTime>(
                name: "next_at",
                table: "outbox",
                type: "timestamp with time zone",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "problem",
                table: "outbox",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "extension",
                table: "lead",
                type: "text",
                nullable: true);

            migrationBuilder.CreateTable(
                name: "contact_reading",
                columns: table => new
                {
                    person_id = table.Column<Guid>(type: "uuid", nullable: false),
                    hour = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    records = table.Column<int>(type: "integer", nullable: false),
                    told_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_contact_reading", x => new { x.person_id, x.hour });
                });

            migrationBuilder.CreateTable(
                name: "known_device",
                columns: table => new
                {
                    hash = table.Column<byte[]>(type: "bytea", nullable: false),
                    person_id = table.Column<Guid>(type: "uuid", nullable: false),
                    seen_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_known_device", x => x.hash);
                    table.ForeignKey(
                        name: "fk_known_device_person_person_id",
                        column: x => x.person_id,
                        principalTable: "person",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "request_key",
                columns: table => new
                {
                    key = table.Column<byte[]>(type: "bytea", nullable: false),
                    request = table.Column<byte[]>(type: "bytea", nullable: false),
                    at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    status = table.Column<int>(type: "integer", nullable: true),
                    type = table.Column<string>(type: "text", nullable: true),
                    body = table.Column<byte[]>(type: "bytea", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_request_key", x => x.key);
                });

            migrationBuilder.CreateTable(
                name: "session",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    person_id = table.Column<Guid>(type: "uuid", nullable: false),
                    role = table.Column<string>(type: "text", nullable: false),
                    started_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    seen_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    ends_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    stays = table.Column<bool>(type: "boolean", nullable: false),
                    address = table.Column<string>(type: "text", nullable: false),
                    agent = table.Column<string>(type: "text", nullable: false),
                    ended_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    ended_because = table.Column<string>(type: "text", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_session", x => x.id);
                    table.ForeignKey(
                        name: "fk_session_person_person_id",
                        column: x => x.person_id,
                        principalTable: "person",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "sign_in_failure",
                columns: table => new
                {
                    key = table.Column<byte[]>(type: "bytea", nullable: false),
                    failures = table.Column<int>(type: "integer", nullable: false),
                    last_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_sign_in_failure", x => x.key);
                });

            migrationBuilder.CreateIndex(
                name: "ix_outbox_given_up_at",
                table: "outbox",
                column: "given_up_at",
                filter: "given_up_at is not null");

            migrationBuilder.CreateIndex(
                name: "ix_outbox_to_email_created_at",
                table: "outbox",
                columns: new[] { "to_email", "created_at" },
                filter: "to_email is not null");

            migrationBuilder.CreateIndex(
                name: "ix_known_device_person_id",
                table: "known_device",
                column: "person_id");

            migrationBuilder.CreateIndex(
                name: "ix_request_key_at",
                table: "request_key",
                column: "at");

            migrationBuilder.CreateIndex(
                name: "ix_session_person_id_seen_at",
                table: "session",
                columns: new[] { "person_id", "seen_at" });

            migrationBuilder.CreateIndex(
                name: "ix_sign_in_failure_last_at",
                table: "sign_in_failure",
                column: "last_at");

            migrationBuilder.Sql(
                """
                create function task_changed() returns trigger language plpgsql as $$
                begin
                  new.changes = old.changes + 1;
                  return new;
                end $$;
                create trigger task_changed before update of due_at, subject, owner_id on task for each row
                  when (old.due_at is distinct from new.due_at or old.subject is distinct from new.subject or old.owner_id is distinct from new.owner_id) execute function task_changed();
                """
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.Sql("drop trigger task_changed on task; drop function task_changed();");

            migrationBuilder.DropTable(
                name: "contact_reading");

            migrationBuilder.DropTable(
                name: "known_device");

            migrationBuilder.DropTable(
                name: "request_key");

            migrationBuilder.DropTable(
                name: "session");

            migrationBuilder.DropTable(
                name: "sign_in_failure");

            migrationBuilder.DropIndex(
                name: "ix_outbox_given_up_at",
                table: "outbox");

            migrationBuilder.DropIndex(
                name: "ix_outbox_to_email_created_at",
                table: "outbox");

            migrationBuilder.DropColumn(
                name: "changes",
                table: "task");

            migrationBuilder.DropColumn(
                name: "numbers",
                table: "person");

            migrationBuilder.DropColumn(
                name: "claimed_at",
                table: "outbox");

            migrationBuilder.DropColumn(
                name: "given_up_at",
                table: "outbox");

            migrationBuilder.DropColumn(
                name: "next_at",
                table: "outbox");

            migrationBuilder.DropColumn(
                name: "problem",
                table: "outbox");

            migrationBuilder.DropColumn(
                name: "extension",
                table: "lead");
        }
    }
}
