using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DapperLantern.App.Data.Migrations
{
    /// <inheritdoc />
    public partial class SecondSteps : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.Sql(
                """
                alter table handing add constraint fk_handing_by_id foreign key (by_id) references person (id) deferrable initially deferred;
                alter table handing_item add constraint fk_handing_item_to_id foreign key (to_id) references person (id) deferrable initially deferred;
                """
            );

            // Answers are kept sealed from here on.
            migrationBuilder.Sql("delete from request_key");

            migrationBuilder.AddColumn<bool>(
                name: "strong",
                table: "session",
                type: "boolean",
                nullable: false,
                defaultValue: false);

            migrationBuilder.CreateTable(
                name: "code_key",
                columns: table => new
                {
                    person_id = table.Column<Guid>(type: "uuid", nullable: false),
                    secret = table.Column<string>(type: "text", nullable: false),
                    confirmed_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    last_step = table.Column<long>(type: "bigint", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_code_key", x => x.person_id);
                    table.ForeignKey(
                        name: "fk_code_key_person_person_id",
                        column: x => x.person_id,
                        principalTable: "person",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "passkey",
                columns: table => new
                {
                    credential_id = table.Column<byte[]>(type: "bytea", nullable: false),
                    user_id = table.Column<Guid>(type: "uuid", nullable: false),
                    data = table.Column<string>(type: "jsonb", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_passkey", x => x.credential_id);
                    table.ForeignKey(
                        name: "fk_passkey_person_user_id",
                        column: x => x.user_id,
                        principalTable: "person",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "recovery_code",
                columns: table => new
                {
                    person_id = table.Column<Guid>(type: "uuid", nullable: false),
                    hash = table.Column<byte[]>(type: "bytea", nullable: false),
                    used_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_recovery_code", x => new { x.person_id, x.hash });
                    table.ForeignKey(
                        name: "fk_recovery_code_person_person_id",
                        column: x => x.person_id,
                        principalTable: "person",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "ix_passkey_user_id",
                table: "passkey",
                column: "user_id");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.Sql("alter table handing drop constraint fk_handing_by_id; alter table handing_item drop constraint fk_handing_item_to_id");

            migrationBuilder.DropTable(
                name: "code_key");

            migrationBuilder.DropTable(
                name: "passkey");

            migrationBuilder.DropTable(
                name: "recovery_code");

            migrationBuilder.DropColumn(
                name: "strong",
                table: "session");
        }
    }
}
