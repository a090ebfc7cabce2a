using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Kivren.Store.Migrations
{
    /// <inheritdoc />
    public partial class Passages : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string[]>(
                name: "hyphenation_exceptions",
                table: "manuals",
                type: "text[]",
                nullable: false,
                defaultValue: new string[0]);

            migrationBuilder.AddColumn<string>(
                name: "passages",
                table: "manuals",
                type: "jsonb",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<string>(
                name: "begins",
                table: "divisions",
                type: "text",
                nullable: false,
                defaultValue: "");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "hyphenation_exceptions",
                table: "manuals");

            migrationBuilder.DropColumn(
                name: "passages",
                table: "manuals");

            migrationBuilder.DropColumn(
                name: "begins",
                table: "divisions");
        }
    }
}
