using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DapperLantern.App.Data.Migrations
{
    /// <inheritdoc />
    public partial class Campaigns : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "about",
                table: "campaign",
                type: "text",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<decimal>(
                name: "budget",
                table: "campaign",
                type: "numeric",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "kind",
                table: "campaign",
                type: "text",
                nullable: false,
                defaultValue: "other");

            migrationBuilder.AddColumn<Guid>(
                name: "owner_id",
                table: "campaign",
                type: "uuid",
                nullable: true);

            migrationBuilder.AddColumn<bool>(
                name: "retired",
                table: "campaign",
                type: "boolean",
                nullable: false,
                defaultValue: false);

            migrationBuilder.AddColumn<int>(
                name: "target",
                table: "campaign",
                type: "integer",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "version",
                table: "campaign",
                type: "integer",
                nullable: false,
                defaultValue: 1);

            migrationBuilder.CreateTable(
                name: "campaign_cost",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    campaign_key = table.Column<string>(type: "text", nullable: false),
                    spent_on = table.Column<DateOnly>(type: "date", nullable: false),
                    what = table.Column<string>(type: "text", nullable: false),
                    amount = table.Column<decimal>(type: "numeric", nullable: false),
                    person_id = table.Column<Guid>(type: "uuid", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_campaign_cost", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "campaign_response",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    campaign_key = table.Column<string>(type: "text", nullable: false),
                    lead_id = table.Column<Guid>(type: "uuid", nullable: false),
                    response = table.Column<string>(type: "text", nullable: false),
                    known = table.Column<bool>(type: "boolean", nullable: false),
                    at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    detail = table.Column<string>(type: "text", nullable: false),
                    delivery_id = table.Column<Guid>(type: "uuid", nullable: true),
                    person_id = table.Column<Guid>(type: "uuid", nullable: true),
                    entry = table.Column<Guid>(type: "uuid", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_campaign_response", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "erasure",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    person_id = table.Column<Guid>(type: "uuid", nullable: false),
                    counts = table.Column<string>(type: "jsonb", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_erasure", x => x.id);
                });

            // What was one number becomes a cost entry on the day the campaign began.
            migrationBuilder.Sql(
                """
                insert into campaign_cost (id, campaign_key, spent_on, what, amount)
                select gen_random_uuid(), key, starts, 'As entered before', cost from campaign where cost <> 0
                """);

            migrationBuilder.DropColumn(
                name: "cost",
                table: "campaign");

            migrationBuilder.CreateIndex(
                name: "ix_campaign_cost_campaign_key_spent_on",
                table: "campaign_cost",
                columns: new[] { "campaign_key", "spent_on" });

            migrationBuilder.CreateIndex(
                name: "ix_campaign_response_campaign_key_response_lead_id_known",
                table: "campaign_response",
                columns: new[] { "campaign_key", "response", "lead_id", "known" });

            migrationBuilder.CreateIndex(
                name: "ix_campaign_response_lead_id",
                table: "campaign_response",
                column: "lead_id");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "campaign_cost");

            migrationBuilder.DropTable(
                name: "campaign_response");

            migrationBuilder.DropTable(
                name: "erasure");

            migrationBuilder.DropColumn(
                name: "about",
                table: "campaign");

            migrationBuilder.DropColumn(
                name: "budget",
                table: "campaign");

            migrationBuilder.DropColumn(
                name: "kind",
                table: "campaign");

            migrationBuilder.DropColumn(
                name: "owner_id",
                table: "campaign");

            migrationBuilder.DropColumn(
                name: "retired",
                table: "campaign");

            migrationBuilder.DropColumn(
                name: "target",
                table: "campaign");

            migrationBuilder.DropColumn(
                name: "version",
                table: "campaign");

            migrationBuilder.AddColumn<decimal>(
                name: "cost",
                table: "campaign",
                type: "numeric",
                nullable: false,
                defaultValue: 0m);
        }
    }
}
