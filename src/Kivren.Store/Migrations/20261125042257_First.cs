using System;
using Microsoft.EntityFrameworkCore.Migrations;
using Npgsql.EntityFrameworkCore.PostgreSQL.Metadata;

#nullable disable

namespace Kivren.Store.Migrations
{
    /// <inheritdoc />
    public partial class First : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "assets",
                columns: table => new
                {
                    manual_id = table.Column<string>(type: "text", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    media_type = table.Column<string>(type: "text", nullable: false),
                    width = table.Column<int>(type: "integer", nullable: false),
                    height = table.Column<int>(type: "integer", nullable: false),
                    hash = table.Column<string>(type: "text", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_assets", x => new { x.manual_id, x.name });
                });

            migrationBuilder.CreateTable(
                name: "blocks",
                columns: table => new
                {
                    id = table.Column<string>(type: "text", nullable: false),
                    manual_id = table.Column<string>(type: "text", nullable: false),
                    division_id = table.Column<string>(type: "text", nullable: false),
                    order_key = table.Column<string>(type: "text", nullable: false, collation: "C"),
                    kind = table.Column<string>(type: "text", nullable: false),
                    body = table.Column<string>(type: "jsonb", nullable: false),
                    version = table.Column<int>(type: "integer", nullable: false),
                    deleted = table.Column<bool>(type: "boolean", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_blocks", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "divisions",
                columns: table => new
                {
                    id = table.Column<string>(type: "text", nullable: false),
                    manual_id = table.Column<string>(type: "text", nullable: false),
                    order_key = table.Column<string>(type: "text", nullable: false, collation: "C"),
                    kind = table.Column<string>(type: "text", nullable: false),
                    title = table.Column<string>(type: "text", nullable: false),
                    short_title = table.Column<string>(type: "text", nullable: true),
                    language = table.Column<string>(type: "text", nullable: false),
                    applies_to = table.Column<string>(type: "jsonb", nullable: false),
                    version = table.Column<int>(type: "integer", nullable: false),
                    deleted = table.Column<bool>(type: "boolean", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_divisions", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "journal",
                columns: table => new
                {
                    id = table.Column<long>(type: "bigint", nullable: false)
                        .Annotation("Npgsql:ValueGenerationStrategy", NpgsqlValueGenerationStrategy.IdentityByDefaultColumn),
                    manual_id = table.Column<string>(type: "text", nullable: false),
                    batch_id = table.Column<string>(type: "text", nullable: false),
                    writer = table.Column<string>(type: "text", nullable: false),
                    label = table.Column<string>(type: "text", nullable: false),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    changes = table.Column<string>(type: "jsonb", nullable: false),
                    answer = table.Column<string>(type: "jsonb", nullable: false),
                    kind = table.Column<string>(type: "text", nullable: false),
                    takes_back = table.Column<long>(type: "bigint", nullable: true),
                    taken_back = table.Column<bool>(type: "boolean", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_journal", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "manuals",
                columns: table => new
                {
                    id = table.Column<string>(type: "text", nullable: false),
                    title = table.Column<string>(type: "text", nullable: false),
                    language = table.Column<string>(type: "text", nullable: false),
                    look = table.Column<string>(type: "text", nullable: false),
                    variables = table.Column<string>(type: "jsonb", nullable: false),
                    editions = table.Column<string>(type: "jsonb", nullable: false),
                    aliases = table.Column<string>(type: "jsonb", nullable: false),
                    worked_on = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    deleted_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    pages = table.Column<int>(type: "integer", nullable: false),
                    loose_ends = table.Column<int>(type: "integer", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_manuals", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "outputs",
                columns: table => new
                {
                    id = table.Column<string>(type: "text", nullable: false),
                    manual_id = table.Column<string>(type: "text", nullable: false),
                    edition = table.Column<string>(type: "text", nullable: false),
                    state = table.Column<string>(type: "text", nullable: false),
                    stage = table.Column<string>(type: "text", nullable: false),
                    done = table.Column<int>(type: "integer", nullable: false),
                    total = table.Column<int>(type: "integer", nullable: false),
                    asked_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    pages = table.Column<int>(type: "integer", nullable: false),
                    loose_ends = table.Column<int>(type: "integer", nullable: false),
                    problem = table.Column<string>(type: "text", nullable: true),
                    file = table.Column<byte[]>(type: "bytea", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_outputs", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "pictures",
                columns: table => new
                {
                    hash = table.Column<string>(type: "text", nullable: false),
                    bytes = table.Column<byte[]>(type: "bytea", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_pictures", x => x.hash);
                });

            migrationBuilder.CreateTable(
                name: "writers",
                columns: table => new
                {
                    id = table.Column<string>(type: "text", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_writers", x => x.id);
                });

            migrationBuilder.InsertData(
                table: "writers",
                columns: new[] { "id", "name" },
                values: new object[] { "writer-1", "Writer" });

            migrationBuilder.CreateIndex(
                name: "ix_blocks_manual_id_division_id_order_key",
                table: "blocks",
                columns: new[] { "manual_id", "division_id", "order_key" });

            migrationBuilder.CreateIndex(
                name: "ix_divisions_manual_id_order_key",
                table: "divisions",
                columns: new[] { "manual_id", "order_key" });

            migrationBuilder.CreateIndex(
                name: "ix_journal_manual_id_batch_id",
                table: "journal",
                columns: new[] { "manual_id", "batch_id" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_journal_manual_id_writer_id",
                table: "journal",
                columns: new[] { "manual_id", "writer", "id" });

            migrationBuilder.CreateIndex(
                name: "ix_outputs_manual_id_asked_at",
                table: "outputs",
                columns: new[] { "manual_id", "asked_at" });
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "assets");

            migrationBuilder.DropTable(
                name: "blocks");

            migrationBuilder.DropTable(
                name: "divisions");

            migrationBuilder.DropTable(
                name: "journal");

            migrationBuilder.DropTable(
                name: "manuals");

            migrationBuilder.DropTable(
                name: "outputs");

            migrationBuilder.DropTable(
                name: "pictures");

            migrationBuilder.DropTable(
                name: "writers");
        }
    }
}
