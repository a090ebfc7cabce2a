using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Kivren.Store.Migrations
{
    /// <inheritdoc />
    public partial class BringIn : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "roles",
                table: "manuals",
                type: "jsonb",
                nullable: false,
                defaultValueSql: "'[]'");

            migrationBuilder.AddColumn<string>(
                name: "state",
                table: "divisions",
                type: "text",
                nullable: false,
                defaultValue: "Draft");

            migrationBuilder.CreateTable(
                name: "mappings",
                columns: table => new
                {
                    name = table.Column<string>(type: "text", nullable: false),
                    body = table.Column<string>(type: "jsonb", nullable: false),
                    kept_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_mappings", x => x.name);
                });

            migrationBuilder.CreateTable(
                name: "patterns",
                columns: table => new
                {
                    name = table.Column<string>(type: "text", nullable: false),
                    version = table.Column<int>(type: "integer", nullable: false),
                    package = table.Column<byte[]>(type: "bytea", nullable: false),
                    kept_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_patterns", x => x.name);
                });

            migrationBuilder.CreateTable(
                name: "sources",
                columns: table => new
                {
                    id = table.Column<string>(type: "text", nullable: false),
                    manual_id = table.Column<string>(type: "text", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    hash = table.Column<string>(type: "text", nullable: false),
                    bytes = table.Column<byte[]>(type: "bytea", nullable: false),
                    mapping = table.Column<string>(type: "jsonb", nullable: false),
                    taken = table.Column<string>(type: "jsonb", nullable: false),
                    report = table.Column<string>(type: "jsonb", nullable: false),
                    brought_in_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_sources", x => x.id);
                });

            migrationBuilder.CreateIndex(
                name: "ix_sources_manual_id_brought_in_at",
                table: "sources",
                columns: new[] { "manual_id", "brought_in_at" });
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "mappings");

            migrationBuilder.DropTable(
                name: "patterns");

            migrationBuilder.DropTable(
                name: "sources");

            migrationBuilder.DropColumn(
                name: "roles",
                table: "manuals");

            migrationBuilder.DropColumn(
                name: "state",
                table: "divisions");
        }
    }
}
