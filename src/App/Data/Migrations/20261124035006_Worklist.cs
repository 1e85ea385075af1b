using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DapperLantern.App.Data.Migrations
{
    /// <inheritdoc />
    public partial class Worklist : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.Sql(
                """
                create function person_key(text) returns bigint language sql immutable strict parallel safe
                  return ('x' || encode(substr(sha256(convert_to($1, 'UTF8')), 1, 8), 'hex'))::bit(64)::bigint;
                """
            );

            migrationBuilder.DropIndex(
                name: "ix_lead_owner_id_state",
                table: "lead");

            migrationBuilder.AddColumn<DateTime>(
                name: "last_sign_at",
                table: "lead",
                type: "timestamp with time zone",
                nullable: true);

            migrationBuilder.AddColumn<DateTime>(
                name: "next_step_at",
                table: "lead",
                type: "timestamp with time zone",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "silent_days",
                table: "lead",
                type: "integer",
                nullable: true);

            migrationBuilder.CreateTable(
                name: "lead_view",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    scope = table.Column<string>(type: "text", nullable: false),
                    owner_id = table.Column<Guid>(type: "uuid", nullable: true),
                    teams = table.Column<string[]>(type: "text[]", nullable: false),
                    acts = table.Column<string[]>(type: "text[]", nullable: false),
                    body = table.Column<string>(type: "jsonb", nullable: false),
                    position = table.Column<int>(type: "integer", nullable: false),
                    version = table.Column<int>(type: "integer", nullable: false, defaultValue: 1)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_lead_view", x => x.id);
                });

            migrationBuilder.CreateIndex(
                name: "ix_lead_created_at_id1",
                table: "lead",
                columns: new[] { "created_at", "id" },
                descending: new bool[0],
                filter: "owner_id is null")
                .Annotation("Npgsql:IndexInclude", new[] { "state", "owner_id" });

            migrationBuilder.CreateIndex(
                name: "ix_lead_engagement_fit_id",
                table: "lead",
                columns: new[] { "engagement", "fit", "id" },
                descending: new bool[0],
                filter: "next_move = 'hand_over' and state in ('new', 'in_work')")
                .Annotation("Npgsql:IndexInclude", new[] { "state", "owner_id" });

            migrationBuilder.CreateIndex(
                name: "ix_lead_last_sign_at_id",
                table: "lead",
                columns: new[] { "last_sign_at", "id" },
                descending: new bool[0],
                filter: "silent_days >= 90");

            migrationBuilder.CreateIndex(
                name: "ix_lead_last_touch_at_id1",
                table: "lead",
                columns: new[] { "last_touch_at", "id" },
                descending: new bool[0],
                filter: "next_step_at is null and state = 'in_work'");

            migrationBuilder.CreateIndex(
                name: "ix_lead_owner_id_clock_due_at",
                table: "lead",
                columns: new[] { "owner_id", "clock_due_at" },
                filter: "state in ('new', 'in_work', 'on_hold', 'qualified')")
                .Annotation("Npgsql:IndexInclude", new[] { "state" });

            migrationBuilder.CreateIndex(
                name: "ix_deal_contact_id",
                table: "deal",
                column: "contact_id");

            migrationBuilder.CreateIndex(
                name: "ix_lead_view_owner_id",
                table: "lead_view",
                column: "owner_id");

            migrationBuilder.Sql(
                """
                update lead l set next_step_at = t.due from (select lead_id, min(due_at) as due from task where done_at is null group by lead_id) t where t.lead_id = l.id;
                update lead l set last_sign_at = s.at,
                  silent_days = (select floor(extract(epoch from s.at - max(e.at)) / 86400)::int from lead_event e where e.lead_id = l.id and e.at < s.at - interval '1 day')
                  from (select lead_id, max(at) as at from lead_event group by lead_id) s where s.lead_id = l.id;
                """
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.Sql("drop function person_key(text);");

            migrationBuilder.DropTable(
                name: "lead_view");

            migrationBuilder.DropIndex(
                name: "ix_lead_created_at_id1",
                table: "lead");

            migrationBuilder.DropIndex(
                name: "ix_lead_engagement_fit_id",
                table: "lead");

            migrationBuilder.DropIndex(
                name: "ix_lead_last_sign_at_id",
                table: "lead");

            migrationBuilder.DropIndex(
                name: "ix_lead_last_touch_at_id1",
                table: "lead");

            migrationBuilder.DropIndex(
                name: "ix_lead_owner_id_clock_due_at",
                table: "lead");

            migrationBuilder.DropIndex(
                name: "ix_deal_contact_id",
                table: "deal");

            migrationBuilder.DropColumn(
                name: "last_sign_at",
                table: "lead");

            migrationBuilder.DropColumn(
                name: "next_step_at",
                table: "lead");

            migrationBuilder.DropColumn(
                name: "silent_days",
                table: "lead");

            migrationBuilder.CreateIndex(
                name: "ix_lead_owner_id_state",
                table: "lead",
                columns: new[] { "owner_id", "state" });
        }
    }
}
