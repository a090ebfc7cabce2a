using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Kivren.Store.Migrations
{
    /// <inheritdoc />
    public partial class PartsOfActs : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "part_of",
                table: "journal",
                type: "text",
                nullable: true);

            migrationBuilder.CreateIndex(
                name: "ix_journal_manual_id_part_of",
                table: "journal",
                columns: new[] { "manual_id", "part_of" },
                filter: "part_of IS NOT NULL");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "ix_journal_manual_id_part_of",
                table: "journal");

            migrationBuilder.DropColumn(
                name: "part_of",
                table: "journal");
        }
    }
}
