using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DapperLantern.App.Data.Migrations
{
    /// <inheritdoc />
    public partial class RowsTaken : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<int>(
                name: "rows_taken",
                table: "delivery",
                type: "integer",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.Sql("update delivery set rows_taken = rows_new + rows_contact + rows_account + rows_adds + rows_twin where state = 'taken'");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "rows_taken",
                table: "delivery");
        }
    }
}
