using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DapperLantern.App.Data.Migrations
{
    /// <inheritdoc />
    public partial class SourceOrder : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "merged_into",
                table: "source",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "position",
                table: "source",
                type: "integer",
                nullable: false,
                defaultValue: 0);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "merged_into",
                table: "source");

            migrationBuilder.DropColumn(
                name: "position",
                table: "source");
        }
    }
}
