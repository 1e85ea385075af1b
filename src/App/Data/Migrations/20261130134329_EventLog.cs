using System;
using DapperLantern.App.Events;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DapperLantern.App.Data.Migrations
{
    /// <inheritdoc />
    public partial class EventLog : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "deal_span",
                columns: table => new
                {
                    deal_id = table.Column<Guid>(type: "uuid", nullable: false),
                    since = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    until = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    pipeline_key = table.Column<string>(type: "text", nullable: false),
                    stage_key = table.Column<string>(type: "text", nullable: false),
                    owner_id = table.Column<Guid>(type: "uuid", nullable: true),
                    amount = table.Column<decimal>(type: "numeric", nullable: false),
                    currency = table.Column<string>(type: "text", nullable: false),
                    expected_close = table.Column<DateOnly>(type: "date", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_deal_span", x => new { x.deal_id, x.since });
                    table.ForeignKey(
                        name: "fk_deal_span_deal_deal_id",
                        column: x => x.deal_id,
                        principalTable: "deal",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "lead_span",
                columns: table => new
                {
                    lead_id = table.Column<Guid>(type: "uuid", nullable: false),
                    since = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    until = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    state = table.Column<string>(type: "text", nullable: false),
                    owner_id = table.Column<Guid>(type: "uuid", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_lead_span", x => new { x.lead_id, x.since });
                });

            // Entity Framework Core makes no partitioned tables.
            migrationBuilder.Sql(
                """
                create sequence event_id;
                create table event (
                  id bigint not null default nextval('event_id'), at timestamptz not null, kind text not null, record_kind text, record uuid, by_id uuid,
                  cause text not null, cause_id uuid, said jsonb not null default '{}', personal jsonb, primary key (at, id)) partition by range (at);
                create index ix_event_record on event (record, at desc) where record is not null;
                create index ix_event_beside_leads on event (at desc, id desc) where record_kind is distinct from 'lead';
                create index ix_event_by on event (by_id, at desc) where by_id is not null;
                """
            );
            // Recording begins now.
            migrationBuilder.Sql("insert into lead_span (lead_id, since, state, owner_id) select id, now(), state, owner_id from lead");
            migrationBuilder.Sql(
                """
                insert into deal_span (deal_id, since, pipeline_key, stage_key, owner_id, amount, currency, expected_close)
                  select id, now(), pipeline_key, stage_key, owner_id, amount, currency, expected_close from deal
                """
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.Sql("drop table event; drop sequence event_id");

            migrationBuilder.DropTable(
                name: "deal_span");

            migrationBuilder.DropTable(
                name: "lead_span");
        }
    }
}
