using System.Text.Json.Serialization;
using Kivren.Server.BringIn;
using Kivren.Server.Editions;
using Kivren.Server.Gates;
using Kivren.Server.Looks;
using Kivren.Server.Manuals;
using Kivren.Server.Pointing;
using Kivren.Server.Produce;
using Kivren.Server.Shelf;
using Kivren.Store;
using Microsoft.AspNetCore.HttpOverrides;
using Microsoft.AspNetCore.StaticFiles;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.FileProviders;
using OpenTelemetry.Metrics;
using OpenTelemetry.Trace;

var builder = WebApplication.CreateBuilder(args);
var settings = builder.Configuration;
var connection = settings["KIVREN_DATABASE"]
    ?? throw new InvalidOperationException("KIVREN_DATABASE is not set: the connection string of the shelf's database. ./start sets it.");
var root = settings["KIVREN_ROOT"] ?? Directory.GetCurrentDirectory();

builder
    .Logging.AddFilter("Microsoft.EntityFrameworkCore", LogLevel.Warning)
    .AddFilter("Microsoft.EntityFrameworkCore.Database.Command", LogLevel.None)
    .AddFilter("Orleans", LogLevel.Warning)
    .AddFilter("Polly", LogLevel.Warning)
    .AddFilter("Orleans.Runtime.Watchdog", LogLevel.Error)
    .AddFilter("Microsoft.AspNetCore", LogLevel.Warning)
    // What went wrong is logged once, by Problems, without what the database said.
    .AddFilter("Microsoft.AspNetCore.Diagnostics.ExceptionHandlerMiddleware", LogLevel.None);
builder.Services.AddDbContextFactory<ShelfContext>(options => ShelfContext.Configure(options, connection));
builder.Services.AddSingleton(TimeProvider.System);
builder.Services.AddSingleton(new ShelfSettings(Path.Combine(root, "demo", "tarn6.kivren")));
builder
    .Services.AddSingleton<Notices>()
    .AddSingleton<CompositionGate>()
    .AddSingleton<OpenManuals>()
    .AddSingleton<LookSamples>()
    .AddSingleton(new PageStore());
builder.Services.AddSingleton<ReadingGate>().AddSingleton<ProducerBell>();
builder.Services.AddHostedService<Producer>().AddHostedService<Tidying>().AddHostedService<Sweeping>();
builder.Services.AddApiDocument();
builder.Services.AddResponseCompression();

// A number is a number: the API's document says so too.
builder.Services.ConfigureHttpJsonOptions(options => options.SerializerOptions.NumberHandling = JsonNumberHandling.Strict);
builder.Services.Configure<RouteHandlerOptions>(options => options.ThrowOnBadRequest = true);
builder.WebHost.ConfigureKestrel(kestrel => kestrel.AddServerHeader = false);
Cluster.Configure(builder);
if (settings["OTEL_EXPORTER_OTLP_ENDPOINT"] is { Length: > 0 })
    builder
        .Services.AddOpenTelemetry()
        .WithTracing(tracing => Npgsql.TracerProviderBuilderExtensions.AddNpgsql(tracing.AddAspNetCoreInstrumentation()).AddOtlpExporter())
        .WithMetrics(metrics =>
            metrics.AddAspNetCoreInstrumentation().AddRuntimeInstrumentation().AddMeter("Microsoft.Orleans").AddOtlpExporter()
        );
if (settings["KIVREN_PROXIES"] is { Length: > 0 } proxies)
    builder.Services.Configure<ForwardedHeadersOptions>(options =>
    {
        options.ForwardedHeaders = ForwardedHeaders.XForwardedFor | ForwardedHeaders.XForwardedProto | ForwardedHeaders.XForwardedHost;
        foreach (var proxy in proxies.Split([',', ' '], StringSplitOptions.RemoveEmptyEntries))
            options.KnownProxies.Add(System.Net.IPAddress.Parse(proxy));
    });

var app = builder.Build();
if (await Schema.Prepare(app.Services) is { } refused)
{
    Console.Error.WriteLine(refused);
    return 1;
}
if (args.Contains("--migrate"))
    return 0;
var demos = settings["KIVREN_LOAD_DEMO"] == "1" ? await Schema.LoadDemo(app.Services) : [];

if (settings["KIVREN_PROXIES"] is { Length: > 0 })
    app.UseForwardedHeaders();
if (settings["KIVREN_BASE_PATH"] is { Length: > 0 } path)
    app.UsePathBase("/" + path.Trim('/'));
app.UseResponseCompression();
app.UseProblems();
app.UseMiddleware<SiteGate>();
app.UseRouting();
var web = Path.Combine(root, "web", "dist");
if (Directory.Exists(web))
{
    // Dictionaries, which no register of media types knows.
    var types = new FileExtensionContentTypeProvider();
    types.Mappings[".aff"] = types.Mappings[".dic"] = "text/plain; charset=utf-8";
    app.UseStaticFiles(new StaticFileOptions { FileProvider = new PhysicalFileProvider(web), ContentTypeProvider = types });
}
app.MapOpenApi(ApiDocument.Address);
app.MapGet("/api/site", (HttpContext http) =>
{
    http.Response.Headers.CacheControl = "no-store";
    return new SiteToken(SiteGate.TokenOf(http));
});
app.MapShelf();
app.MapPatterns();
app.MapKeptOnShelf();
app.MapManuals();
app.MapPictures();
app.MapFinding();
app.MapPointing();
app.MapEditions();
app.MapTemplates();
app.MapProfiles();
app.MapLooks();
app.MapShelfOfLooks();
app.MapBringIn();
app.MapProof();
app.MapEquations();
app.MapHistory();
app.MapProduce();
app.MapHub<LiveHub>("/live");
app.MapHealth();
app.MapFallback("/api/{**rest}", (HttpContext http) =>
    Problem.Write(http, System.Net.HttpStatusCode.NotFound, "There is nothing at this address.")
);
if (Directory.Exists(web))
    app.MapGet("/", (HttpContext http) =>
        http.Request.Path.Value?.EndsWith('/') == true
            ? Results.File(Path.Combine(web, "index.html"), "text/html; charset=utf-8")
            : Results.Redirect($"{http.Request.PathBase}/")
    );
await app.StartAsync();

// Composed before anybody opens them: the shelf shows at once how thick they are.
foreach (var demo in demos)
    _ = ManualEndpoints.Of(app.Services.GetRequiredService<IGrainFactory>(), demo).Proof();
Console.WriteLine($"Kivren serves at {string.Join(' ', app.Urls)}");
await app.WaitForShutdownAsync();
return 0;
