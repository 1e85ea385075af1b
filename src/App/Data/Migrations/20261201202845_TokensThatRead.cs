using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DapperLantern.App.Data.Migrations
{
    /// <inheritdoc />
    public partial class TokensThatRead : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AlterColumn<string>(
                name: "source",
                table: "access_token",
                type: "text",
                nullable: true,
                oldClrType: typeof(string),
                oldType: "text");

            migrationBuilder.AddColumn<DateTime>(
                name: "ends_at",
                table: "access_token",
                type: "timestamp with time zone",
                nullable: true);

            migrationBuilder.AddColumn<Guid>(
                name: "reads_as_id",
                table: "access_token",
                type: "uuid",
                nullable: true);

            migrationBuilder.CreateIndex(
                name: "ix_access_token_reads_as_id",
                table: "access_token",
                column: "reads_as_id");

            migrationBuilder.AddForeignKey(
                name: "fk_access_token_person_reads_as_id",
                table: "access_token",
                column: "reads_as_id",
                principalTable: "person",
                principalColumn: "id",
                onDelete: ReferentialAction.Cascade);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropForeignKey(
                name: "fk_access_token_person_reads_as_id",
                table: "access_token");

            migrationBuilder.DropIndex(
                name: "ix_access_token_reads_as_id",
                table: "access_token");

            migrationBuilder.DropColumn(
                name: "ends_at",
                table: "access_token");

            migrationBuilder.DropColumn(
                name: "reads_as_id",
                table: "access_token");

            migrationBuilder.AlterColumn<string>(
                name: "source",
                table: "access_token",
                type: "text",
                nullable: false,
                defaultValue: "",
                oldClrType: typeof(string),
                oldType: "text",
                oldNullable: true);
        }
    }
}
