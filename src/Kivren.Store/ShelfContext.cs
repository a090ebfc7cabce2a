using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Design;

namespace Kivren.Store;

/// <summary>The database of one shelf.</summary>
public sealed class ShelfContext(DbContextOptions<ShelfContext> options) : DbContext(options)
{
    public DbSet<ManualRow> Manuals => Set<ManualRow>();
    public DbSet<DivisionRow> Divisions => Set<DivisionRow>();
    public DbSet<BlockRow> Blocks => Set<BlockRow>();
    public DbSet<AssetRow> Assets => Set<AssetRow>();
    public DbSet<PictureRow> Pictures => Set<PictureRow>();
    public DbSet<JournalRow> Journal => Set<JournalRow>();
    public DbSet<JournalBlockRow> JournalBlocks => Set<JournalBlockRow>();
    public DbSet<JournalDivisionRow> JournalDivisions => Set<JournalDivisionRow>();
    public DbSet<OutputRow> Outputs => Set<OutputRow>();
    public DbSet<OutputFileRow> OutputFiles => Set<OutputFileRow>();
    public DbSet<SourceFileRow> SourceFiles => Set<SourceFileRow>();
    public DbSet<IncomingRow> Incoming => Set<IncomingRow>();
    public DbSet<IncomingFileRow> IncomingFiles => Set<IncomingFileRow>();
    public DbSet<MappingRow> Mappings => Set<MappingRow>();
    public DbSet<SourceRow> Sources => Set<SourceRow>();
    public DbSet<PatternRow> Patterns => Set<PatternRow>();

    public DbSet<LookRow> Looks => Set<LookRow>();
    public DbSet<LookVersionRow> LookVersions => Set<LookVersionRow>();
    public DbSet<FontFileRow> FontFiles => Set<FontFileRow>();
    public DbSet<KeptOnShelfRow> KeptOnShelf => Set<KeptOnShelfRow>();
    public DbSet<WriterRow> Writers => Set<WriterRow>();

    public static void Configure(DbContextOptionsBuilder options, string connection) =>
        options.UseNpgsql(connection).UseSnakeCaseNamingConvention();

    protected override void OnModelCreating(ModelBuilder model)
    {
        model.Entity<ManualRow>(e =>
        {
            e.ToTable("manuals");
            e.Property(m => m.Variables).HasColumnType("jsonb");
            e.Property(m => m.Editions).HasColumnType("jsonb");
            e.Property(m => m.Aliases).HasColumnType("jsonb");
            e.Property(m => m.Conditions).HasColumnType("jsonb").HasDefaultValueSql("'{}'");
            e.Property(m => m.Roles).HasColumnType("jsonb").HasDefaultValueSql("'[]'");
            e.Property(m => m.PassedOver).HasColumnType("jsonb").HasDefaultValueSql("'[]'");
            e.Property(m => m.PutAside).HasColumnType("jsonb").HasDefaultValueSql("'[]'");
            e.Property(m => m.Lists).HasColumnType("jsonb").HasDefaultValueSql("'[]'");
            e.Property(m => m.TermsLead).HasColumnType("jsonb").HasDefaultValueSql("'false'");
            e.Property(m => m.ChapterContents).HasColumnType("jsonb").HasDefaultValueSql("'\"\"'");
            e.Property(m => m.IndexDress).HasColumnType("jsonb").HasDefaultValueSql("'{}'");
        });
        model.Entity<DivisionRow>(e =>
        {
            e.ToTable("divisions");
            e.Property(d => d.AppliesTo).HasColumnType("jsonb");
            e.Property(d => d.State).HasDefaultValue("Draft");
            e.Property(d => d.OrderKey).UseCollation("C");
            e.Property(d => d.Version).IsConcurrencyToken();
            e.HasIndex(d => new { d.ManualId, d.OrderKey });
            e.HasAlternateKey(d => new { d.ManualId, d.Id });
            e.HasOne<ManualRow>().WithMany().HasForeignKey(d => d.ManualId);
        });
        model.Entity<BlockRow>(e =>
        {
            e.ToTable("blocks");
            e.Property(b => b.Body).HasColumnType("jsonb");
            e.Property(b => b.OrderKey).UseCollation("C");
            // The desk is the only writer; should two ever run, the second's write fails here instead of being lost.
            e.Property(b => b.Version).IsConcurrencyToken();
            // One key for both: a block's division is of its own manual. Checked for each of thousands of pasted rows.
            e.HasOne<DivisionRow>()
                .WithMany()
                .HasForeignKey(b => new { b.ManualId, b.DivisionId })
                .HasPrincipalKey(d => new { d.ManualId, d.Id });
        });
        model.Entity<AssetRow>(e =>
        {
            e.ToTable("assets");
            e.HasKey(a => new { a.ManualId, a.Name });
            e.HasOne<ManualRow>().WithMany().HasForeignKey(a => a.ManualId);
        });
        model.Entity<PictureRow>(e =>
        {
            e.ToTable("pictures");
            e.HasKey(p => p.Hash);
            e.Property(p => p.KeptAt).HasDefaultValueSql("now()");
        });
        model.Entity<JournalRow>(e =>
        {
            e.ToTable("journal");
            e.Property(j => j.Answer).HasColumnType("jsonb");
            e.Property(j => j.SettingsBefore).HasColumnType("jsonb");
            e.Property(j => j.SettingsAfter).HasColumnType("jsonb");
            e.Property(j => j.Kind).HasConversion<string>();
            e.HasIndex(j => new { j.ManualId, j.BatchId }).IsUnique();
            e.HasIndex(j => new
            {
                j.ManualId,
                j.Writer,
                j.Id,
            });
            e.HasIndex(j => new { j.ManualId, j.PartOf }).HasFilter("part_of IS NOT NULL");
            e.HasOne<ManualRow>().WithMany().HasForeignKey(j => j.ManualId);
        });
        model.Entity<JournalBlockRow>(e =>
        {
            e.ToTable("journal_blocks");
            e.HasKey(b => new { b.Act, b.BlockId });
            e.Property(b => b.BeforeBody).HasColumnType("jsonb");
            e.HasIndex(b => new { b.BlockId, b.BeforeVersion });
            e.HasOne<JournalRow>().WithMany().HasForeignKey(b => b.Act).OnDelete(DeleteBehavior.Cascade);
        });
        model.Entity<JournalDivisionRow>(e =>
        {
            e.ToTable("journal_divisions");
            e.HasKey(d => new { d.Act, d.DivisionId });
            e.Property(d => d.Before).HasColumnType("jsonb");
            e.Property(d => d.After).HasColumnType("jsonb");
            e.HasOne<JournalRow>().WithMany().HasForeignKey(d => d.Act).OnDelete(DeleteBehavior.Cascade);
        });
        model.Entity<OutputRow>(e =>
        {
            e.ToTable("outputs");
            e.Property(o => o.State).HasConversion<string>();
            e.Property(o => o.Kind).HasDefaultValue("ScreenPdf");
            e.Property(o => o.Report).HasColumnType("jsonb");
            e.HasIndex(o => new { o.ManualId, o.AskedAt });
            e.HasIndex(o => o.State);
            e.HasOne<ManualRow>().WithMany().HasForeignKey(o => o.ManualId);
        });
        model.Entity<OutputFileRow>(e =>
        {
            e.ToTable("output_files");
            e.HasKey(f => f.OutputId);
            e.HasOne<OutputRow>().WithOne().HasForeignKey<OutputFileRow>(f => f.OutputId).OnDelete(DeleteBehavior.Cascade);
        });
        model.Entity<SourceFileRow>(e =>
        {
            e.ToTable("source_files");
            e.HasKey(f => f.SourceId);
            e.HasOne<SourceRow>().WithOne().HasForeignKey<SourceFileRow>(f => f.SourceId).OnDelete(DeleteBehavior.Cascade);
        });
        model.Entity<IncomingRow>(e =>
        {
            e.ToTable("incoming");
            e.Property(i => i.Choices).HasColumnType("jsonb");
            e.Property(i => i.Taken).HasColumnType("jsonb");
            e.HasIndex(i => i.StartedAt);
        });
        model.Entity<IncomingFileRow>(e =>
        {
            e.ToTable("incoming_files");
            e.HasKey(f => new { f.IncomingId, f.No });
            e.HasOne<IncomingRow>().WithMany().HasForeignKey(f => f.IncomingId).OnDelete(DeleteBehavior.Cascade);
        });
        model.Entity<MappingRow>(e =>
        {
            e.ToTable("mappings");
            e.HasKey(m => m.Name);
            e.Property(m => m.Body).HasColumnType("jsonb");
        });
        model.Entity<SourceRow>(e =>
        {
            e.ToTable("sources");
            e.Property(s => s.Mapping).HasColumnType("jsonb");
            e.Property(s => s.Taken).HasColumnType("jsonb");
            e.Property(s => s.Report).HasColumnType("jsonb");
            e.HasIndex(s => new { s.ManualId, s.BroughtInAt });
            e.HasOne<ManualRow>().WithMany().HasForeignKey(s => s.ManualId);
        });
        model.Entity<PatternRow>(e =>
        {
            e.ToTable("patterns");
            e.HasKey(p => p.Name);
        });
        model.Entity<LookRow>(e =>
        {
            e.ToTable("looks");
            e.HasKey(l => l.Name);
        });
        model.Entity<LookVersionRow>(e =>
        {
            e.ToTable("look_versions");
            e.HasKey(l => new { l.Name, l.Version });
        });
        model.Entity<FontFileRow>(e =>
        {
            e.ToTable("font_files");
            e.HasKey(f => f.Hash);
        });
        model.Entity<KeptOnShelfRow>(e =>
        {
            e.ToTable("kept_on_shelf");
            e.HasKey(k => new { k.Kind, k.Name });
            e.Property(k => k.Body).HasColumnType("jsonb");
        });
        model.Entity<WriterRow>(e =>
        {
            e.ToTable("writers");
            e.HasData(new WriterRow { Id = "writer-1", Name = "Writer" });
        });
    }
}

/// <summary>For the migrations tool, which needs no server.</summary>
public sealed class ShelfContextFactory : IDesignTimeDbContextFactory<ShelfContext>
{
    public ShelfContext CreateDbContext(string[] args)
    {
        var options = new DbContextOptionsBuilder<ShelfContext>();
        ShelfContext.Configure(options, "Host=localhost;Database=kivren");
        return new ShelfContext(options.Options);
    }
}
