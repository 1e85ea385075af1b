using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DapperLantern.App.Data.Migrations
{
    /// <inheritdoc />
    public partial class DueWork : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "due",
                columns: table => new
                {
                    kind = table.Column<string>(type: "text", nullable: false),
                    key = table.Column<Guid>(type: "uuid", nullable: false),
                    at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    tries = table.Column<int>(type: "integer", nullable: false, defaultValue: 0),
                    problem = table.Column<string>(type: "text", nullable: true),
                    given_up_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_due", x => new { x.kind, x.key });
                });

            migrationBuilder.CreateIndex(
                name: "ix_due_given_up_at",
                table: "due",
                column: "given_up_at",
                filter: "given_up_at is not null");

            migrationBuilder.CreateIndex(
                name: "ix_due_kind_at",
                table: "due",
                columns: new[] { "kind", "at" },
                filter: "given_up_at is null");

            migrationBuilder.Sql(
                """
                insert into due (kind, key, at)
                  select 'clock', id, clock_due_at from lead where state = 'new' and owner_id is not null and clock_due_at is not null and clock_ran_out_at is null
                  union all select 'wake', id, wake_at from lead where state = 'on_hold' and wake_at is not null
                """
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "due");
        }
    }
}
