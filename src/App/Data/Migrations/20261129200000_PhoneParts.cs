using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DapperLantern.App.Data.Migrations
{
    /// <summary>Telephone numbers are found by any part of them, not only by their end.</summary>
    [DbContext(typeof(LanternDb))]
    [Migration("20261129200000_PhoneParts")]
    public partial class PhoneParts : Migration
    {
        protected override void Up(MigrationBuilder migrationBuilder) =>
            migrationBuilder.Sql(
                """
                create index ix_lead_phone_part on lead using gin ((coalesce(phone, '') || ' ' || coalesce(mobile, '')) gin_trgm_ops) with (gin_pending_list_limit = 1024);
                create index ix_contact_phone_part on contact using gin (phone gin_trgm_ops);
                """
            );

        protected override void Down(MigrationBuilder migrationBuilder) => migrationBuilder.Sql("drop index ix_lead_phone_part; drop index ix_contact_phone_part;");
    }
}
