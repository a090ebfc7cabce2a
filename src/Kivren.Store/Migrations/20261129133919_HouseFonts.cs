using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Kivren.Store.Migrations
{
    /// <inheritdoc />
    public partial class HouseFonts : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "font_files",
                columns: table => new
                {
                    hash = table.Column<string>(type: "text", nullable: false),
                    called = table.Column<string>(type: "text", nullable: false),
                    bytes = table.Column<byte[]>(type: "bytea", nullable: false),
                    kept_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_font_files", x => x.hash);
                });

            migrationBuilder.CreateTable(
                name: "look_versions",
                columns: table => new
                {
                    name = table.Column<string>(type: "text", nullable: false),
                    version = table.Column<int>(type: "integer", nullable: false),
                    file = table.Column<string>(type: "text", nullable: false),
                    kept_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_look_versions", x => new { x.name, x.version });
                });
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "font_files");

            migrationBuilder.DropTable(
                name: "look_versions");
        }
    }
}
