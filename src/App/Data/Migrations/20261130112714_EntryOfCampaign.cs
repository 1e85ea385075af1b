using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DapperLantern.App.Data.Migrations
{
    /// <inheritdoc />
    public partial class EntryOfCampaign : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<Guid>(
                name: "entry",
                table: "story_entry",
                type: "uuid",
                nullable: true);

            migrationBuilder.AddColumn<Guid>(
                name: "entry",
                table: "lead_event",
                type: "uuid",
                nullable: true);

            // What was recorded by hand stood in the column of imports.
            foreach (var table in new[] { "lead_event", "story_entry" })
                migrationBuilder.Sql(
                    $"""
                    update {table} t set entry = t.import_id, import_id = null
                    where t.import_id is not null and not exists (select 1 from import i where i.id = t.import_id)
                      and exists (select 1 from campaign_response r where r.entry = t.import_id and r.lead_id = t.lead_id)
                    """
                );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "entry",
                table: "story_entry");

            migrationBuilder.DropColumn(
                name: "entry",
                table: "lead_event");
        }
    }
}
