using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DapperLantern.App.Data.Migrations
{
    /// <inheritdoc />
    public partial class Routing : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AlterColumn<long>(
                name: "credit",
                table: "turn",
                type: "bigint",
                nullable: false,
                oldClrType: typeof(int),
                oldType: "integer");

            migrationBuilder.AddColumn<bool>(
                name: "only_in_hours",
                table: "team",
                type: "boolean",
                nullable: false,
                defaultValue: false);

            migrationBuilder.AddColumn<string>(
                name: "asked",
                table: "routing_decision",
                type: "jsonb",
                nullable: false,
                defaultValueSql: "'{}'");

            migrationBuilder.AddColumn<string>(
                name: "moment",
                table: "routing_decision",
                type: "text",
                nullable: false,
                defaultValue: "arrival");

            migrationBuilder.AddColumn<int>(
                name: "capacity_today",
                table: "person",
                type: "integer",
                nullable: true);

            migrationBuilder.AddColumn<bool>(
                name: "here",
                table: "person",
                type: "boolean",
                nullable: false,
                defaultValue: true);

            migrationBuilder.AddColumn<string>(
                name: "holidays",
                table: "person",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<string[]>(
                name: "languages",
                table: "person",
                type: "text[]",
                nullable: false,
                defaultValue: new string[0]);

            migrationBuilder.AddColumn<string[]>(
                name: "serves",
                table: "person",
                type: "text[]",
                nullable: false,
                defaultValue: new string[0]);

            migrationBuilder.AddColumn<string[]>(
                name: "skills",
                table: "person",
                type: "text[]",
                nullable: false,
                defaultValue: new string[0]);

            migrationBuilder.AddColumn<int>(
                name: "works_days",
                table: "person",
                type: "integer",
                nullable: false,
                defaultValue: 31);

            migrationBuilder.AddColumn<DateTime>(
                name: "answered_at",
                table: "lead",
                type: "timestamp with time zone",
                nullable: true);

            migrationBuilder.AddColumn<bool>(
                name: "answered_in_time",
                table: "lead",
                type: "boolean",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "clock_passes",
                table: "lead",
                type: "integer",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<DateTime>(
                name: "clock_ran_out_at",
                table: "lead",
                type: "timestamp with time zone",
                nullable: true);

            migrationBuilder.AddColumn<DateTime>(
                name: "clock_warned_at",
                table: "lead",
                type: "timestamp with time zone",
                nullable: true);

            migrationBuilder.CreateTable(
                name: "absence",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    person_id = table.Column<Guid>(type: "uuid", nullable: false),
                    starts = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    ends = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    stand_in_id = table.Column<Guid>(type: "uuid", nullable: true),
                    why = table.Column<string>(type: "text", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_absence", x => x.id);
                    table.CheckConstraint("ck_absence_forward", "ends > starts");
                    table.CheckConstraint("ck_absence_stand_in", "stand_in_id is distinct from person_id");
                    table.ForeignKey(
                        name: "fk_absence_person_person_id",
                        column: x => x.person_id,
                        principalTable: "person",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "fk_absence_person_stand_in_id",
                        column: x => x.stand_in_id,
                        principalTable: "person",
                        principalColumn: "id",
                        onDelete: ReferentialAction.SetNull);
                });

            migrationBuilder.CreateTable(
                name: "holiday_calendar",
                columns: table => new
                {
                    key = table.Column<string>(type: "text", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_holiday_calendar", x => x.key);
                });

            migrationBuilder.CreateTable(
                name: "holiday",
                columns: table => new
                {
                    calendar_key = table.Column<string>(type: "text", nullable: false),
                    day = table.Column<DateOnly>(type: "date", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_holiday", x => new { x.calendar_key, x.day });
                    table.ForeignKey(
                        name: "fk_holiday_holiday_calendar_calendar_key",
                        column: x => x.calendar_key,
                        principalTable: "holiday_calendar",
                        principalColumn: "key",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "ix_routing_decision_owner_id_at",
                table: "routing_decision",
                columns: new[] { "owner_id", "at" });

            migrationBuilder.CreateIndex(
                name: "ix_lead_answered_at",
                table: "lead",
                column: "answered_at",
                filter: "answered_at is not null");

            migrationBuilder.CreateIndex(
                name: "ix_absence_person_id_ends",
                table: "absence",
                columns: new[] { "person_id", "ends" });

            migrationBuilder.CreateIndex(
                name: "ix_absence_stand_in_id",
                table: "absence",
                column: "stand_in_id");

            // Credits are in billionths of a lead from now on; the rotations begin anew, with nobody owed.
            migrationBuilder.Sql(
                """
                update turn set credit = 0;
                update lead set clock_ran_out_at = clock_due_at where clock_due_at < now();
                insert into absence (id, person_id, starts, ends, why) select gen_random_uuid(), id, least(now(), away_until - interval '1 minute'), away_until, '' from person where away_until is not null;
                create function lead_answered() returns trigger language plpgsql as $$ begin
                  if new.answered_at is null and new.owner_id is not distinct from old.owner_id then
                    new.answered_at := new.last_touch_at; new.answered_in_time := new.last_touch_at <= old.clock_due_at; end if;
                  return new; end $$;
                create trigger lead_answered before update of clock_due_at on lead for each row
                  when (old.clock_due_at is not null and new.clock_due_at is null and old.owner_id is not null) execute function lead_answered();
                drop index ix_edition_one_draft;
                create unique index ix_edition_one_draft on edition (kind) where state = 'draft' and kind in ('scoring', 'rules');
                create index ix_lead_household on lead (lower(last_name), lower(postal_code), lower(street)) where company is null and street is not null and postal_code is not null;
                create index ix_lead_clock on lead (clock_due_at) where state = 'new' and clock_due_at is not null and clock_ran_out_at is null;
                """
            );

            migrationBuilder.DropColumn(
                name: "away_until",
                table: "person");

        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.Sql("drop index ix_lead_household; drop index ix_lead_clock; drop index ix_edition_one_draft; create unique index ix_edition_one_draft on edition (kind) where state = 'draft' and kind = 'scoring'; update turn set credit = 0; drop trigger lead_answered on lead; drop function lead_answered;");

            migrationBuilder.DropTable(
                name: "absence");

            migrationBuilder.DropTable(
                name: "holiday");

            migrationBuilder.DropTable(
                name: "holiday_calendar");

            migrationBuilder.DropIndex(
                name: "ix_routing_decision_owner_id_at",
                table: "routing_decision");

            migrationBuilder.DropIndex(
                name: "ix_lead_answered_at",
                table: "lead");

            migrationBuilder.DropColumn(
                name: "only_in_hours",
                table: "team");

            migrationBuilder.DropColumn(
                name: "asked",
                table: "routing_decision");

            migrationBuilder.DropColumn(
                name: "moment",
                table: "routing_decision");

            migrationBuilder.DropColumn(
                name: "capacity_today",
                table: "person");

            migrationBuilder.DropColumn(
                name: "here",
                table: "person");

            migrationBuilder.DropColumn(
                name: "holidays",
                table: "person");

            migrationBuilder.DropColumn(
                name: "languages",
                table: "person");

            migrationBuilder.DropColumn(
                name: "serves",
                table: "person");

            migrationBuilder.DropColumn(
                name: "skills",
                table: "person");

            migrationBuilder.DropColumn(
                name: "works_days",
                table: "person");

            migrationBuilder.DropColumn(
                name: "answered_at",
                table: "lead");

            migrationBuilder.DropColumn(
                name: "answered_in_time",
                table: "lead");

            migrationBuilder.DropColumn(
                name: "clock_passes",
                table: "lead");

            migrationBuilder.DropColumn(
                name: "clock_ran_out_at",
                table: "lead");

            migrationBuilder.DropColumn(
                name: "clock_warned_at",
                table: "lead");

            migrationBuilder.AlterColumn<int>(
                name: "credit",
                table: "turn",
                type: "integer",
                nullable: false,
                oldClrType: typeof(long),
                oldType: "bigint");

            migrationBuilder.AddColumn<DateTime>(
                name: "away_until",
                table: "person",
                type: "timestamp with time zone",
                nullable: true);
        }
    }
}
