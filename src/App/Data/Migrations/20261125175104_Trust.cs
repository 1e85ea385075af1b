using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DapperLantern.App.Data.Migrations
{
    /// <inheritdoc />
    public partial class Trust : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<int>(
                name: "trust",
                table: "source",
                type: "integer",
                nullable: false,
                defaultValue: 0);
            // Leads that were removed are found again by their mail address.
            migrationBuilder.Sql("create index ix_bulk_lead_gone on bulk_lead ((kept->'gone'->'lead'->0->>'email')) where kept ? 'gone'");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.Sql("drop index ix_bulk_lead_gone");
            migrationBuilder.DropColumn(
                name: "trust",
                table: "source");
        }
    }
}
