using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DapperLantern.App.Data.Migrations
{
    /// <inheritdoc />
    public partial class KnownAnswers : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "known_answer",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    person_id = table.Column<Guid>(type: "uuid", nullable: false),
                    lead_id = table.Column<Guid>(type: "uuid", nullable: true),
                    contact_id = table.Column<Guid>(type: "uuid", nullable: true),
                    account_id = table.Column<Guid>(type: "uuid", nullable: true),
                    first_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    last_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    times = table.Column<int>(type: "integer", nullable: false),
                    asked_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    word = table.Column<string>(type: "text", nullable: false),
                    outcome = table.Column<string>(type: "text", nullable: true),
                    answered_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    answered_by_id = table.Column<Guid>(type: "uuid", nullable: true),
                    owner_before_id = table.Column<Guid>(type: "uuid", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_known_answer", x => x.id);
                });

            migrationBuilder.CreateIndex(
                name: "ix_known_answer_asked_at",
                table: "known_answer",
                column: "asked_at",
                filter: "asked_at is not null and outcome is null");

            migrationBuilder.CreateIndex(
                name: "ix_known_answer_lead_id",
                table: "known_answer",
                column: "lead_id",
                filter: "lead_id is not null");

            migrationBuilder.CreateIndex(
                name: "ix_known_answer_person_id_account_id",
                table: "known_answer",
                columns: new[] { "person_id", "account_id" },
                unique: true,
                filter: "account_id is not null");

            migrationBuilder.CreateIndex(
                name: "ix_known_answer_person_id_contact_id",
                table: "known_answer",
                columns: new[] { "person_id", "contact_id" },
                unique: true,
                filter: "contact_id is not null");

            migrationBuilder.CreateIndex(
                name: "ix_known_answer_person_id_last_at",
                table: "known_answer",
                columns: new[] { "person_id", "last_at" });

            migrationBuilder.CreateIndex(
                name: "ix_known_answer_person_id_lead_id",
                table: "known_answer",
                columns: new[] { "person_id", "lead_id" },
                unique: true,
                filter: "lead_id is not null");

            migrationBuilder.Sql(
                """
                alter table known_answer add constraint fk_known_answer_lead_id foreign key (lead_id) references lead (id) deferrable initially deferred;
                alter table known_answer add constraint fk_known_answer_contact_id foreign key (contact_id) references contact (id) deferrable initially deferred;
                alter table known_answer add constraint fk_known_answer_account_id foreign key (account_id) references account (id) deferrable initially deferred;
                alter table known_answer add constraint fk_known_answer_person_id foreign key (person_id) references person (id) deferrable initially deferred;
                alter table known_answer add constraint fk_known_answer_answered_by_id foreign key (answered_by_id) references person (id) deferrable initially deferred;
                alter table known_answer add constraint fk_known_answer_owner_before_id foreign key (owner_before_id) references person (id) deferrable initially deferred;
                """
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "known_answer");
        }
    }
}
