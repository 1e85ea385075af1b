using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DapperLantern.App.Data.Migrations
{
    /// <inheritdoc />
    public partial class Scoring : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "ix_lead_engagement_fit_id",
                table: "lead");

            migrationBuilder.AddColumn<string>(
                name: "campaign_kind",
                table: "lead_event",
                type: "text",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<string>(
                name: "direction",
                table: "lead_event",
                type: "text",
                nullable: false,
                defaultValue: "in");

            migrationBuilder.AddColumn<int>(
                name: "band",
                table: "lead",
                type: "integer",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<double[]>(
                name: "glow",
                table: "lead",
                type: "double precision[]",
                nullable: true);

            migrationBuilder.AddColumn<DateTime>(
                name: "look_again_at",
                table: "lead",
                type: "timestamp with time zone",
                nullable: true);

            migrationBuilder.AddColumn<DateTime>(
                name: "move_until",
                table: "lead",
                type: "timestamp with time zone",
                nullable: true);

            migrationBuilder.AddColumn<DateTime>(
                name: "scored_at",
                table: "lead",
                type: "timestamp with time zone",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "note",
                table: "edition",
                type: "text",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<Guid>(
                name: "published_by",
                table: "edition",
                type: "uuid",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "version",
                table: "edition",
                type: "integer",
                nullable: false,
                defaultValue: 1);

            migrationBuilder.CreateTable(
                name: "crossing",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    lead_id = table.Column<Guid>(type: "uuid", nullable: false),
                    at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    kind = table.Column<string>(type: "text", nullable: false),
                    fit = table.Column<int>(type: "integer", nullable: false),
                    engagement = table.Column<int>(type: "integer", nullable: false),
                    edition = table.Column<Guid>(type: "uuid", nullable: true),
                    by_edition = table.Column<bool>(type: "boolean", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_crossing", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "rescore_run",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    edition = table.Column<Guid>(type: "uuid", nullable: false),
                    started_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    since = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    ended_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    leads = table.Column<int>(type: "integer", nullable: false),
                    done = table.Column<int>(type: "integer", nullable: false),
                    moved = table.Column<int>(type: "integer", nullable: false),
                    after_id = table.Column<Guid>(type: "uuid", nullable: false),
                    tries = table.Column<int>(type: "integer", nullable: false),
                    trouble = table.Column<string>(type: "text", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_rescore_run", x => x.id);
                });

            migrationBuilder.CreateIndex(
                name: "ix_lead_band_id",
                table: "lead",
                columns: new[] { "band", "id" },
                descending: new bool[0],
                filter: "band > 0");

            migrationBuilder.CreateIndex(
                name: "ix_lead_band_id1",
                table: "lead",
                columns: new[] { "band", "id" },
                descending: new bool[0],
                filter: "next_move = 'hand_over' and state in ('new', 'in_work')")
                .Annotation("Npgsql:IndexInclude", new[] { "state", "owner_id", "move_until" });

            migrationBuilder.CreateIndex(
                name: "ix_lead_look_again_at",
                table: "lead",
                column: "look_again_at",
                filter: "look_again_at is not null");

            migrationBuilder.CreateIndex(
                name: "ix_crossing_lead_id_at",
                table: "crossing",
                columns: new[] { "lead_id", "at" });

            migrationBuilder.CreateIndex(
                name: "ix_rescore_run_started_at",
                table: "rescore_run",
                column: "started_at");

            // What Core's Glow.Score computes, as an expression that PostgreSQL puts in place of the call. The sum stands in it twice.
            migrationBuilder.Sql(
                """
                create function engagement_at(glow double precision[], day double precision) returns integer language sql immutable parallel safe as $$
                  select case when glow is null then 0 else floor(0.5 + least(greatest(0, (case when glow[5] is null then case when day >= glow[4] then glow[2] else 0 end else glow[5] * power(2, greatest(-1000, (glow[3] - day) / glow[6])) + case when glow[7] is null then case when day >= glow[4] then glow[2] else 0 end else glow[7] * power(2, greatest(-1000, (glow[3] - day) / glow[8])) + case when glow[9] is null then case when day >= glow[4] then glow[2] else 0 end else glow[9] * power(2, greatest(-1000, (glow[3] - day) / glow[10])) + case when glow[11] is null then case when day >= glow[4] then glow[2] else 0 end else glow[11] * power(2, greatest(-1000, (glow[3] - day) / glow[12])) + case when glow[13] is null then case when day >= glow[4] then glow[2] else 0 end else glow[13] * power(2, greatest(-1000, (glow[3] - day) / glow[14])) + case when glow[15] is null then case when day >= glow[4] then glow[2] else 0 end else glow[15] * power(2, greatest(-1000, (glow[3] - day) / glow[16])) + case when glow[17] is null then case when day >= glow[4] then glow[2] else 0 end else glow[17] * power(2, greatest(-1000, (glow[3] - day) / glow[18])) + case when glow[19] is null then case when day >= glow[4] then glow[2] else 0 end else glow[19] * power(2, greatest(-1000, (glow[3] - day) / glow[20])) + case when glow[21] is null then case when day >= glow[4] then glow[2] else 0 end else glow[21] * power(2, greatest(-1000, (glow[3] - day) / glow[22])) + case when glow[23] is null then case when day >= glow[4] then glow[2] else 0 end else glow[23] * power(2, greatest(-1000, (glow[3] - day) / glow[24])) + case when glow[25] is null then case when day >= glow[4] then glow[2] else 0 end else glow[25] * power(2, greatest(-1000, (glow[3] - day) / glow[26])) + case when glow[27] is null then case when day >= glow[4] then glow[2] else 0 end else glow[27] * power(2, greatest(-1000, (glow[3] - day) / glow[28])) + case when day >= glow[4] then glow[2] else 0 end end end end end end end end end end end end end)), glow[1])
                    + greatest(100 - glow[1], 1e-9) * (1 - exp(-least(700, greatest(0, (case when glow[5] is null then case when day >= glow[4] then glow[2] else 0 end else glow[5] * power(2, greatest(-1000, (glow[3] - day) / glow[6])) + case when glow[7] is null then case when day >= glow[4] then glow[2] else 0 end else glow[7] * power(2, greatest(-1000, (glow[3] - day) / glow[8])) + case when glow[9] is null then case when day >= glow[4] then glow[2] else 0 end else glow[9] * power(2, greatest(-1000, (glow[3] - day) / glow[10])) + case when glow[11] is null then case when day >= glow[4] then glow[2] else 0 end else glow[11] * power(2, greatest(-1000, (glow[3] - day) / glow[12])) + case when glow[13] is null then case when day >= glow[4] then glow[2] else 0 end else glow[13] * power(2, greatest(-1000, (glow[3] - day) / glow[14])) + case when glow[15] is null then case when day >= glow[4] then glow[2] else 0 end else glow[15] * power(2, greatest(-1000, (glow[3] - day) / glow[16])) + case when glow[17] is null then case when day >= glow[4] then glow[2] else 0 end else glow[17] * power(2, greatest(-1000, (glow[3] - day) / glow[18])) + case when glow[19] is null then case when day >= glow[4] then glow[2] else 0 end else glow[19] * power(2, greatest(-1000, (glow[3] - day) / glow[20])) + case when glow[21] is null then case when day >= glow[4] then glow[2] else 0 end else glow[21] * power(2, greatest(-1000, (glow[3] - day) / glow[22])) + case when glow[23] is null then case when day >= glow[4] then glow[2] else 0 end else glow[23] * power(2, greatest(-1000, (glow[3] - day) / glow[24])) + case when glow[25] is null then case when day >= glow[4] then glow[2] else 0 end else glow[25] * power(2, greatest(-1000, (glow[3] - day) / glow[26])) + case when glow[27] is null then case when day >= glow[4] then glow[2] else 0 end else glow[27] * power(2, greatest(-1000, (glow[3] - day) / glow[28])) + case when day >= glow[4] then glow[2] else 0 end end end end end end end end end end end end end) - glow[1]) / greatest(100 - glow[1], 1e-9)))))::integer end
                $$;

                -- The sum alone, which stands in the same order and costs half.
                create function glow_sum(glow double precision[], day double precision) returns double precision language sql immutable parallel safe as $$
                  select case when glow[5] is null then case when day >= glow[4] then glow[2] else 0 end else glow[5] * power(2, greatest(-1000, (glow[3] - day) / glow[6])) + case when glow[7] is null then case when day >= glow[4] then glow[2] else 0 end else glow[7] * power(2, greatest(-1000, (glow[3] - day) / glow[8])) + case when glow[9] is null then case when day >= glow[4] then glow[2] else 0 end else glow[9] * power(2, greatest(-1000, (glow[3] - day) / glow[10])) + case when glow[11] is null then case when day >= glow[4] then glow[2] else 0 end else glow[11] * power(2, greatest(-1000, (glow[3] - day) / glow[12])) + case when glow[13] is null then case when day >= glow[4] then glow[2] else 0 end else glow[13] * power(2, greatest(-1000, (glow[3] - day) / glow[14])) + case when glow[15] is null then case when day >= glow[4] then glow[2] else 0 end else glow[15] * power(2, greatest(-1000, (glow[3] - day) / glow[16])) + case when glow[17] is null then case when day >= glow[4] then glow[2] else 0 end else glow[17] * power(2, greatest(-1000, (glow[3] - day) / glow[18])) + case when glow[19] is null then case when day >= glow[4] then glow[2] else 0 end else glow[19] * power(2, greatest(-1000, (glow[3] - day) / glow[20])) + case when glow[21] is null then case when day >= glow[4] then glow[2] else 0 end else glow[21] * power(2, greatest(-1000, (glow[3] - day) / glow[22])) + case when glow[23] is null then case when day >= glow[4] then glow[2] else 0 end else glow[23] * power(2, greatest(-1000, (glow[3] - day) / glow[24])) + case when glow[25] is null then case when day >= glow[4] then glow[2] else 0 end else glow[25] * power(2, greatest(-1000, (glow[3] - day) / glow[26])) + case when glow[27] is null then case when day >= glow[4] then glow[2] else 0 end else glow[27] * power(2, greatest(-1000, (glow[3] - day) / glow[28])) + case when day >= glow[4] then glow[2] else 0 end end end end end end end end end end end end end
                $$;

                -- Else each look at an element of it would copy it out of its packed form first.
                alter table lead alter column glow set storage plain;

                create function lead_crossed() returns trigger language plpgsql as $$
                declare moment timestamptz := coalesce(new.scored_at, now());
                begin
                  if coalesce(current_setting('lantern.putting_back', true), '') = 'yes' then return null; end if;
                  if new.next_move = 'hand_over' and (tg_op = 'INSERT' or old.next_move <> 'hand_over') then
                    insert into crossing (id, lead_id, at, kind, fit, engagement, edition, by_edition)
                      values (gen_random_uuid(), new.id, moment, 'cleared', new.fit, new.engagement, new.model_edition, tg_op = 'UPDATE' and old.model_edition is distinct from new.model_edition);
                  elsif tg_op = 'UPDATE' and old.next_move = 'hand_over' and new.next_move <> 'hand_over' then
                    insert into crossing (id, lead_id, at, kind, fit, engagement, edition, by_edition)
                      values (gen_random_uuid(), new.id, least(moment, old.move_until), 'fell', new.fit, new.engagement, new.model_edition, old.model_edition is distinct from new.model_edition);
                  end if;
                  if tg_op = 'UPDATE' and new.silent_days >= 90 and new.last_sign_at > old.last_sign_at then
                    insert into crossing (id, lead_id, at, kind, fit, engagement, edition, by_edition)
                      values (gen_random_uuid(), new.id, new.last_sign_at, 'woke', new.fit, new.engagement, new.model_edition, false);
                  end if;
                  return null;
                end $$;
                create trigger lead_crossed_in after insert on lead for each row when (new.next_move = 'hand_over') execute function lead_crossed();
                create trigger lead_crossed after update of next_move, last_sign_at on lead for each row
                  when (old.next_move is distinct from new.next_move or old.last_sign_at is distinct from new.last_sign_at) execute function lead_crossed();

                create unique index ix_edition_one_draft on edition (kind) where state = 'draft' and kind = 'scoring';

                insert into rescore_run (id, edition, started_at, leads, done, moved, after_id, tries)
                  select gen_random_uuid(), e.id, now(), n.leads, 0, 0, '00000000-0000-0000-0000-000000000000', 0
                  from edition e, (select count(*)::int as leads from lead) n where e.kind = 'scoring' and e.state = 'live' and n.leads > 0;
                """
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.Sql(
                "drop trigger lead_crossed on lead; drop trigger lead_crossed_in on lead; drop function lead_crossed; drop function engagement_at; drop function glow_sum; drop index ix_edition_one_draft;"
            );
            migrationBuilder.DropTable(
                name: "crossing");

            migrationBuilder.DropTable(
                name: "rescore_run");

            migrationBuilder.DropIndex(
                name: "ix_lead_band_id",
                table: "lead");

            migrationBuilder.DropIndex(
                name: "ix_lead_band_id1",
                table: "lead");

            migrationBuilder.DropIndex(
                name: "ix_lead_look_again_at",
                table: "lead");

            migrationBuilder.DropColumn(
                name: "campaign_kind",
                table: "lead_event");

            migrationBuilder.DropColumn(
                name: "direction",
                table: "lead_event");

            migrationBuilder.DropColumn(
                name: "band",
                table: "lead");

            migrationBuilder.DropColumn(
                name: "glow",
                table: "lead");

            migrationBuilder.DropColumn(
                name: "look_again_at",
                table: "lead");

            migrationBuilder.DropColumn(
                name: "move_until",
                table: "lead");

            migrationBuilder.DropColumn(
                name: "scored_at",
                table: "lead");

            migrationBuilder.DropColumn(
                name: "note",
                table: "edition");

            migrationBuilder.DropColumn(
                name: "published_by",
                table: "edition");

            migrationBuilder.DropColumn(
                name: "version",
                table: "edition");

            migrationBuilder.CreateIndex(
                name: "ix_lead_engagement_fit_id",
                table: "lead",
                columns: new[] { "engagement", "fit", "id" },
                descending: new bool[0],
                filter: "next_move = 'hand_over' and state in ('new', 'in_work')")
                .Annotation("Npgsql:IndexInclude", new[] { "state", "owner_id" });
        }
    }
}
