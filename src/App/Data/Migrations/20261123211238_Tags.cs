using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DapperLantern.App.Data.Migrations
{
    /// <inheritdoc />
    public partial class Tags : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "colour",
                table: "tag",
                type: "text",
                nullable: false,
                defaultValue: "slate");

            migrationBuilder.AddColumn<string>(
                name: "group_name",
                table: "tag",
                type: "text",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<string>(
                name: "merged_into",
                table: "tag",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<Guid>(
                name: "owner_id",
                table: "tag",
                type: "uuid",
                nullable: true);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "colour",
                table: "tag");

            migrationBuilder.DropColumn(
                name: "group_name",
                table: "tag");

            migrationBuilder.DropColumn(
                name: "merged_into",
                table: "tag");

            migrationBuilder.DropColumn(
                name: "owner_id",
                table: "tag");
        }
    }
}
