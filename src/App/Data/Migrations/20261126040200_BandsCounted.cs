using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DapperLantern.App.Data.Migrations
{
    /// <inheritdoc />
    public partial class BandsCounted : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "ix_lead_band_id",
                table: "lead");

            migrationBuilder.CreateIndex(
                name: "ix_lead_band_id",
                table: "lead",
                columns: new[] { "band", "id" },
                descending: new bool[0],
                filter: "band > 0")
                .Annotation("Npgsql:IndexInclude", new[] { "owner_id", "look_again_at" });
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "ix_lead_band_id",
                table: "lead");

            migrationBuilder.CreateIndex(
                name: "ix_lead_band_id",
                table: "lead",
                columns: new[] { "band", "id" },
                descending: new bool[0],
                filter: "band > 0");
        }
    }
}
