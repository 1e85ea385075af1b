using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DapperLantern.App.Data.Migrations
{
    /// <inheritdoc />
    public partial class OnHold : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "state_reason",
                table: "lead",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<DateTime>(
                name: "wake_at",
                table: "lead",
                type: "timestamp with time zone",
                nullable: true);

            migrationBuilder.CreateIndex(
                name: "ix_lead_wake_at",
                table: "lead",
                column: "wake_at",
                filter: "wake_at is not null");

            // Who was put on hold before there was a date wakes in a month.
            migrationBuilder.Sql("update lead set wake_at = now() + interval '30 days' where state = 'on_hold';");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "ix_lead_wake_at",
                table: "lead");

            migrationBuilder.DropColumn(
                name: "state_reason",
                table: "lead");

            migrationBuilder.DropColumn(
                name: "wake_at",
                table: "lead");
        }
    }
}
