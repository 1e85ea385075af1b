using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DapperLantern.App.Data.Migrations
{
    /// <inheritdoc />
    public partial class IdentityProvider : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "provider_session",
                table: "session",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "provider_token",
                table: "session",
                type: "text",
                nullable: true);

            migrationBuilder.CreateTable(
                name: "identity_provider",
                columns: table => new
                {
                    key = table.Column<string>(type: "text", nullable: false),
                    body = table.Column<string>(type: "jsonb", nullable: false),
                    secret = table.Column<string>(type: "text", nullable: true),
                    version = table.Column<int>(type: "integer", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_identity_provider", x => x.key);
                });

            migrationBuilder.CreateTable(
                name: "provider_value",
                columns: table => new
                {
                    value = table.Column<string>(type: "text", nullable: false),
                    seen_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_provider_value", x => x.value);
                });
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "identity_provider");

            migrationBuilder.DropTable(
                name: "provider_value");

            migrationBuilder.DropColumn(
                name: "provider_session",
                table: "session");

            migrationBuilder.DropColumn(
                name: "provider_token",
                table: "session");
        }
    }
}
