using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DapperLantern.App.Data.Migrations
{
    /// <inheritdoc />
    public partial class SubStates : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "sub_state",
                table: "lead",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "sub_state_set",
                table: "lead",
                type: "text",
                nullable: true);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "sub_state",
                table: "lead");

            migrationBuilder.DropColumn(
                name: "sub_state_set",
                table: "lead");
        }
    }
}
