using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Kivren.Store.Migrations
{
    /// <inheritdoc />
    public partial class FewerChecks : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropForeignKey(
                name: "fk_blocks_divisions_division_id",
                table: "blocks");

            migrationBuilder.DropForeignKey(
                name: "fk_blocks_manuals_manual_id",
                table: "blocks");

            migrationBuilder.DropIndex(
                name: "ix_blocks_division_id",
                table: "blocks");

            migrationBuilder.DropIndex(
                name: "ix_blocks_manual_id_division_id_order_key",
                table: "blocks");

            migrationBuilder.AddColumn<string[]>(
                name: "new_blocks",
                table: "journal",
                type: "text[]",
                nullable: false,
                defaultValue: new string[0]);

            migrationBuilder.AddUniqueConstraint(
                name: "ak_divisions_manual_id_id",
                table: "divisions",
                columns: new[] { "manual_id", "id" });

            migrationBuilder.CreateIndex(
                name: "ix_blocks_manual_id_division_id",
                table: "blocks",
                columns: new[] { "manual_id", "division_id" });

            // Where a row named another manual than its division does, the division is right: it is where the block is read.
            migrationBuilder.Sql("""
                UPDATE blocks b SET manual_id = d.manual_id FROM divisions d WHERE d.id = b.division_id AND d.manual_id <> b.manual_id;
                """);

            migrationBuilder.AddForeignKey(
                name: "fk_blocks_divisions_manual_id_division_id",
                table: "blocks",
                columns: new[] { "manual_id", "division_id" },
                principalTable: "divisions",
                principalColumns: new[] { "manual_id", "id" },
                onDelete: ReferentialAction.Cascade);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropForeignKey(
                name: "fk_blocks_divisions_manual_id_division_id",
                table: "blocks");

            migrationBuilder.DropUniqueConstraint(
                name: "ak_divisions_manual_id_id",
                table: "divisions");

            migrationBuilder.DropIndex(
                name: "ix_blocks_manual_id_division_id",
                table: "blocks");

            migrationBuilder.DropColumn(
                name: "new_blocks",
                table: "journal");

            migrationBuilder.CreateIndex(
                name: "ix_blocks_division_id",
                table: "blocks",
                column: "division_id");

            migrationBuilder.CreateIndex(
                name: "ix_blocks_manual_id_division_id_order_key",
                table: "blocks",
                columns: new[] { "manual_id", "division_id", "order_key" });

            migrationBuilder.AddForeignKey(
                name: "fk_blocks_divisions_division_id",
                table: "blocks",
                column: "division_id",
                principalTable: "divisions",
                principalColumn: "id",
                onDelete: ReferentialAction.Cascade);

            migrationBuilder.AddForeignKey(
                name: "fk_blocks_manuals_manual_id",
                table: "blocks",
                column: "manual_id",
                principalTable: "manuals",
                principalColumn: "id",
                onDelete: ReferentialAction.Cascade);
        }
    }
}
