using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Kivren.Store.Migrations
{
    /// <inheritdoc />
    public partial class ListsAndDecisions : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "chapter_contents",
                table: "manuals",
                type: "jsonb",
                nullable: false,
                defaultValueSql: "'\"\"'");

            migrationBuilder.AddColumn<string>(
                name: "index_dress",
                table: "manuals",
                type: "jsonb",
                nullable: false,
                defaultValueSql: "'{}'");

            migrationBuilder.AddColumn<string>(
                name: "lists",
                table: "manuals",
                type: "jsonb",
                nullable: false,
                defaultValueSql: "'[]'");

            migrationBuilder.AddColumn<string>(
                name: "passed_over",
                table: "manuals",
                type: "jsonb",
                nullable: false,
                defaultValueSql: "'[]'");

            migrationBuilder.AddColumn<string>(
                name: "put_aside",
                table: "manuals",
                type: "jsonb",
                nullable: false,
                defaultValueSql: "'[]'");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "chapter_contents",
                table: "manuals");

            migrationBuilder.DropColumn(
                name: "index_dress",
                table: "manuals");

            migrationBuilder.DropColumn(
                name: "lists",
                table: "manuals");

            migrationBuilder.DropColumn(
                name: "passed_over",
                table: "manuals");

            migrationBuilder.DropColumn(
                name: "put_aside",
                table: "manuals");
        }
    }
}
