using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DapperLantern.App.Data.Migrations
{
    /// <inheritdoc />
    public partial class Matching : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<long>(
                name: "name_key",
                table: "arrival",
                type: "bigint",
                nullable: true);

            migrationBuilder.CreateTable(
                name: "match_key",
                columns: table => new
                {
                    key = table.Column<long>(type: "bigint", nullable: false),
                    record_id = table.Column<Guid>(type: "uuid", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_match_key", x => new { x.key, x.record_id });
                });

            migrationBuilder.CreateTable(
                name: "record_merge",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    kind = table.Column<string>(type: "text", nullable: false),
                    kept_id = table.Column<Guid>(type: "uuid", nullable: false),
                    now_id = table.Column<Guid>(type: "uuid", nullable: false),
                    gone_id = table.Column<Guid>(type: "uuid", nullable: false),
                    gone = table.Column<string>(type: "jsonb", nullable: false),
                    changes = table.Column<string>(type: "jsonb", nullable: false),
                    moved = table.Column<string>(type: "jsonb", nullable: false),
                    added = table.Column<string>(type: "jsonb", nullable: false),
                    at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    person_id = table.Column<Guid>(type: "uuid", nullable: false),
                    apart_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_record_merge", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "twin",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    kind = table.Column<string>(type: "text", nullable: false),
                    a = table.Column<Guid>(type: "uuid", nullable: false),
                    b = table.Column<Guid>(type: "uuid", nullable: false),
                    bits = table.Column<decimal>(type: "numeric", nullable: false),
                    sure = table.Column<bool>(type: "boolean", nullable: false),
                    evidence = table.Column<string>(type: "jsonb", nullable: false),
                    state = table.Column<string>(type: "text", nullable: false),
                    found_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    settled_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    settled_by = table.Column<Guid>(type: "uuid", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_twin", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "twin_due",
                columns: table => new
                {
                    record_id = table.Column<Guid>(type: "uuid", nullable: false),
                    kind = table.Column<string>(type: "text", nullable: false),
                    asked = table.Column<Guid>(type: "uuid", nullable: false, defaultValueSql: "gen_random_uuid()")
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_twin_due", x => x.record_id);
                });

            migrationBuilder.CreateIndex(
                name: "ix_arrival_name_key",
                table: "arrival",
                column: "name_key",
                filter: "name_key is not null");

            migrationBuilder.CreateIndex(
                name: "ix_match_key_record_id",
                table: "match_key",
                column: "record_id");

            migrationBuilder.CreateIndex(
                name: "ix_record_merge_gone_id",
                table: "record_merge",
                column: "gone_id",
                unique: true,
                filter: "apart_at is null");

            migrationBuilder.CreateIndex(
                name: "ix_record_merge_kept_id",
                table: "record_merge",
                column: "kept_id");

            migrationBuilder.CreateIndex(
                name: "ix_record_merge_now_id",
                table: "record_merge",
                column: "now_id");

            migrationBuilder.CreateIndex(
                name: "ix_twin_a_b",
                table: "twin",
                columns: new[] { "a", "b" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_twin_b",
                table: "twin",
                column: "b");

            migrationBuilder.CreateIndex(
                name: "ix_twin_kind_bits",
                table: "twin",
                columns: new[] { "kind", "bits" },
                filter: "state = 'open'");

            migrationBuilder.Sql(
                """
                create function match_key_out() returns trigger language plpgsql as $$ begin
                  delete from match_key k using gone g where k.record_id = g.id;
                  delete from twin t using gone g where t.state <> 'merged' and t.a = g.id;
                  delete from twin t using gone g where t.state <> 'merged' and t.b = g.id;
                  return null; end $$;
                create trigger match_key_out after delete on lead referencing old table as gone for each statement execute function match_key_out();
                create trigger match_key_out after delete on contact referencing old table as gone for each statement execute function match_key_out();
                create trigger match_key_out after delete on account referencing old table as gone for each statement execute function match_key_out();
                """
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.Sql(
                "drop trigger match_key_out on lead; drop trigger match_key_out on contact; drop trigger match_key_out on account; drop function match_key_out();"
            );

            migrationBuilder.DropTable(
                name: "match_key");

            migrationBuilder.DropTable(
                name: "record_merge");

            migrationBuilder.DropTable(
                name: "twin");

            migrationBuilder.DropTable(
                name: "twin_due");

            migrationBuilder.DropIndex(
                name: "ix_arrival_name_key",
                table: "arrival");

            migrationBuilder.DropColumn(
                name: "name_key",
                table: "arrival");
        }
    }
}
