using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DapperLantern.App.Data.Migrations
{
    /// <inheritdoc />
    public partial class People : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "EmailIndex",
                table: "person");

            migrationBuilder.AddColumn<int>(
                name: "version",
                table: "person",
                type: "integer",
                nullable: false,
                defaultValue: 1);

            migrationBuilder.CreateTable(
                name: "one_time_link",
                columns: table => new
                {
                    hash = table.Column<byte[]>(type: "bytea", nullable: false),
                    kind = table.Column<string>(type: "text", nullable: false),
                    person_id = table.Column<Guid>(type: "uuid", nullable: true),
                    made_by = table.Column<Guid>(type: "uuid", nullable: true),
                    made_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    ends_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    ended_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_one_time_link", x => x.hash);
                    table.ForeignKey(
                        name: "fk_one_time_link_person_made_by",
                        column: x => x.made_by,
                        principalTable: "person",
                        principalColumn: "id",
                        onDelete: ReferentialAction.SetNull);
                    table.ForeignKey(
                        name: "fk_one_time_link_person_person_id",
                        column: x => x.person_id,
                        principalTable: "person",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            // People of before have an address, and nobody signed in by it.
            migrationBuilder.Sql("update person set normalized_email = upper(email) where email is not null");

            migrationBuilder.CreateIndex(
                name: "EmailIndex",
                table: "person",
                column: "normalized_email",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_one_time_link_made_by",
                table: "one_time_link",
                column: "made_by");

            migrationBuilder.CreateIndex(
                name: "ix_one_time_link_person_id",
                table: "one_time_link",
                column: "person_id");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "one_time_link");

            migrationBuilder.DropIndex(
                name: "EmailIndex",
                table: "person");

            migrationBuilder.DropColumn(
                name: "version",
                table: "person");

            migrationBuilder.CreateIndex(
                name: "EmailIndex",
                table: "person",
                column: "normalized_email");
        }
    }
}
