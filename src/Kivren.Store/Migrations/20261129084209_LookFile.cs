using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Kivren.Store.Migrations
{
    /// <inheritdoc />
    public partial class LookFile : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "look_file",
                table: "manuals",
                type: "text",
                nullable: true);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "look_file",
                table: "manuals");
        }
    }
}
