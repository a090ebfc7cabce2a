using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Kivren.Store.Migrations
{
    /// <inheritdoc />
    public partial class AcceptedWords : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string[]>(
                name: "accepted_words",
                table: "manuals",
                type: "text[]",
                nullable: false,
                defaultValue: new string[0]);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "accepted_words",
                table: "manuals");
        }
    }
}
