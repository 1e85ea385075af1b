using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DapperLantern.App.Data.Migrations
{
    /// <inheritdoc />
    public partial class Company : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "company",
                columns: table => new
                {
                    id = table.Column<int>(type: "integer", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    street = table.Column<string>(type: "text", nullable: false),
                    postal_code = table.Column<string>(type: "text", nullable: false),
                    city = table.Column<string>(type: "text", nullable: false),
                    country = table.Column<string>(type: "text", nullable: true),
                    currency = table.Column<string>(type: "text", nullable: false),
                    time_zone = table.Column<string>(type: "text", nullable: false),
                    dates = table.Column<string>(type: "text", nullable: false),
                    fiscal_month = table.Column<int>(type: "integer", nullable: false),
                    tax_number = table.Column<string>(type: "text", nullable: false),
                    colour = table.Column<string>(type: "text", nullable: false),
                    logo = table.Column<byte[]>(type: "bytea", nullable: true),
                    logo_print = table.Column<string>(type: "text", nullable: true),
                    sender_name = table.Column<string>(type: "text", nullable: false),
                    sender_address = table.Column<string>(type: "text", nullable: false),
                    mail_host = table.Column<string>(type: "text", nullable: false),
                    mail_port = table.Column<int>(type: "integer", nullable: false),
                    mail_user = table.Column<string>(type: "text", nullable: false),
                    mail_secret = table.Column<string>(type: "text", nullable: true),
                    version = table.Column<int>(type: "integer", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_company", x => x.id);
                    table.CheckConstraint("company_only", "id = 1");
                });
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "company");
        }
    }
}
