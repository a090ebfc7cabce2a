using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Kivren.Store.Migrations
{
    /// <inheritdoc />
    public partial class OutputsOfEditions : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<long>(
                name: "act",
                table: "outputs",
                type: "bigint",
                nullable: false,
                defaultValue: 0L);

            migrationBuilder.AddColumn<long>(
                name: "bytes",
                table: "outputs",
                type: "bigint",
                nullable: false,
                defaultValue: 0L);

            migrationBuilder.AddColumn<string>(
                name: "file_name",
                table: "outputs",
                type: "text",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<string>(
                name: "kind",
                table: "outputs",
                type: "text",
                nullable: false,
                defaultValue: "ScreenPdf");

            migrationBuilder.AddColumn<string>(
                name: "report",
                table: "outputs",
                type: "jsonb",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "since",
                table: "outputs",
                type: "text",
                nullable: true);

            // Files that were made before are taken under the name that they had.
            migrationBuilder.Sql(
                """
                UPDATE outputs o SET bytes = length(f.bytes), file_name = m.title || '.pdf'
                FROM output_files f, manuals m WHERE f.output_id = o.id AND m.id = o.manual_id
                """
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "act",
                table: "outputs");

            migrationBuilder.DropColumn(
                name: "bytes",
                table: "outputs");

            migrationBuilder.DropColumn(
                name: "file_name",
                table: "outputs");

            migrationBuilder.DropColumn(
                name: "kind",
                table: "outputs");

            migrationBuilder.DropColumn(
                name: "report",
                table: "outputs");

            migrationBuilder.DropColumn(
                name: "since",
                table: "outputs");
        }
    }
}
