using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DapperLantern.App.Data.Migrations
{
    /// <inheritdoc />
    public partial class Roles : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            // Roles became rows, of which a person has several; those of now keep their keys.
            migrationBuilder.Sql(
                """
                alter table person alter column role type text[] using array[lower(role)];
                alter table person rename column role to roles;
                alter table person alter column roles set default '{}';
                alter table person add column signature text not null default '';
                alter table session alter column role type text[] using array[lower(role)];
                alter table session rename column role to roles;
                alter table session alter column roles set default '{}';
                update setup_entry set body = lower(body::text)::jsonb where key = 'strong-sign-in';
                """
            );

            migrationBuilder.CreateTable(
                name: "role",
                columns: table => new
                {
                    key = table.Column<string>(type: "text", nullable: false),
                    body = table.Column<string>(type: "jsonb", nullable: false),
                    version = table.Column<int>(type: "integer", nullable: false),
                    changed_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_role", x => x.key);
                });
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "role");

            migrationBuilder.Sql(
                """
                alter table person drop column signature;
                alter table person alter column roles drop default;
                alter table person rename column roles to role;
                alter table person alter column role type text using initcap(role[1]);
                alter table session alter column roles drop default;
                alter table session rename column roles to role;
                alter table session alter column role type text using initcap(role[1]);
                """
            );
        }
    }
}
