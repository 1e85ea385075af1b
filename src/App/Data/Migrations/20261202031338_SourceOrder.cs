using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DapperLantern.App.Data.Migrations
{
    /// <inheritdoc />
    public partial class SourceOrder : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "merged_into",
                table: "source",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "position",
                table: "source",
                type: "integer",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.Sql(
                "alter table source add constraint fk_source_merged_into foreign key (merged_into) references source (key) deferrable initially deferred;"
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.Sql("alter table source drop constraint fk_source_merged_into;");

            migrationBuilder.DropColumn(
                name: "merged_into",
                table: "source");

            migrationBuilder.DropColumn(
                name: "position",
                table: "source");
        }
    }
}
