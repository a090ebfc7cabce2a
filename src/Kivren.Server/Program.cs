using System.Text.Json.Serialization;
using Hangfire;
using Hangfire.PostgreSql;
using Kivren.Server.BringIn;
using Kivren.Server.Desk;
using Kivren.Server.Plan;
using Kivren.Server.Produce;
using Kivren.Server.Proof;
using Kivren.Server.Shelf;
using Kivren.Store;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.FileProviders;

var builder = WebApplication.CreateBuilder(args);
var connection = builder.Configuration["KIVREN_DATABASE"] ?? throw new InvalidOperationException("KIVREN_DATABASE is not set: the connection string of the shelf's database. ./start sets it.");
var root = builder.Configuration["KIVREN_ROOT"] ?? Directory.GetCurrentDirectory();

builder.Logging.AddFilter("Microsoft.EntityFrameworkCore", LogLevel.Warning).AddFilter("Orleans", LogLevel.Warning).AddFilter("Hangfire", LogLevel.Warning).AddFilter("Microsoft.AspNetCore", LogLevel.Warning);
builder.Services.AddDbContextFactory<ShelfContext>(options => ShelfContext.Configure(options, connection));
builder.Services.AddSingleton(TimeProvider.System);
builder.Services.AddSingleton(new ShelfSettings(Path.Combine(root, "demo", "tarn6.kivren")));
builder.Services.AddSingleton<ProofRooms>();
builder.Services.AddSingleton<BringInRooms>();
builder.Services.AddSignalR(options => options.MaximumReceiveMessageSize = 1 << 20);
builder.Services.AddOpenApi();
builder.Services.AddResponseCompression();
builder.Services.ConfigureHttpJsonOptions(options => options.SerializerOptions.DefaultIgnoreCondition = JsonIgnoreCondition.Never);
builder.Services.AddHangfire(options => options.UsePostgreSqlStorage(storage => storage.UseNpgsqlConnection(connection), new PostgreSqlStorageOptions { QueuePollInterval = TimeSpan.FromMilliseconds(250) }));
builder.Services.AddHangfireServer(options => options.WorkerCount = 1);
builder.Host.UseOrleans(silo =>
{
    // One process by default. Ports are chosen free, so that several shelves can run on one machine.
    var (siloPort, gatewayPort) = (FreePort(), FreePort());
    silo.UseLocalhostClustering(siloPort, gatewayPort);
});

var app = builder.Build();
await using (var scope = app.Services.CreateAsyncScope())
{
    var db = scope.ServiceProvider.GetRequiredService<ShelfContext>();
    await db.Database.MigrateAsync();
    if (builder.Configuration["KIVREN_LOAD_DEMO"] == "1" && !await db.Manuals.AnyAsync() && File.Exists(scope.ServiceProvider.GetRequiredService<ShelfSettings>().Demo))
    {
        await using var file = File.OpenRead(scope.ServiceProvider.GetRequiredService<ShelfSettings>().Demo);
        await ManualSaver.Save(db, Kivren.Formats.Package.PackageReader.Read(file, []), TimeProvider.System.GetUtcNow());
    }
}

app.UseResponseCompression();
app.UseExceptionHandler(handler => handler.Run(async http =>
{
    http.Response.StatusCode = StatusCodes.Status500InternalServerError;
    var problem = http.Features.Get<Microsoft.AspNetCore.Diagnostics.IExceptionHandlerFeature>()?.Error;
    await http.Response.WriteAsJsonAsync(new Problem($"Kivren could not do this: {problem?.Message ?? "unknown"}"));
}));
var web = Path.Combine(root, "web", "dist");
if (Directory.Exists(web))
{
    var files = new PhysicalFileProvider(web);
    app.UseDefaultFiles(new DefaultFilesOptions { FileProvider = files });
    app.UseStaticFiles(new StaticFileOptions { FileProvider = files });
}
app.MapOpenApi();
app.MapShelf();
app.MapPatterns();
app.MapDesk();
app.MapBringIn();
app.MapPlan();
app.MapProof();
app.MapProduce();
app.MapHub<ProofHub>("/live");
app.MapGet("/api/ready", () => Results.Ok());
if (Directory.Exists(web)) app.MapFallback(() => Results.File(Path.Combine(web, "index.html"), "text/html"));
await app.StartAsync();
Console.WriteLine($"Kivren serves at {string.Join(' ', app.Urls)}");
await app.WaitForShutdownAsync();

static int FreePort()
{
    using var listener = new System.Net.Sockets.TcpListener(System.Net.IPAddress.Loopback, 0);
    listener.Start();
    return ((System.Net.IPEndPoint)listener.LocalEndpoint).Port;
}
