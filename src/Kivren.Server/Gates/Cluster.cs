using System.Net;
using Orleans.Configuration;
using StackExchange.Redis;

namespace Kivren.Server.Gates;

/// <summary>One process by itself, or several on the same data: then they know of each other, and their browsers hear each
/// other, through Redis.</summary>
public sealed class Cluster(string? redis) : IDisposable
{
    private readonly Lazy<Task<ConnectionMultiplexer>>? _redis = redis is null
        ? null
        : new Lazy<Task<ConnectionMultiplexer>>(() => ConnectionMultiplexer.ConnectAsync(Options(redis)));

    private static ConfigurationOptions Options(string redis)
    {
        var options = ConfigurationOptions.Parse(redis);
        // A process outlives an exchange that is away.
        options.AbortOnConnectFail = false;
        options.ConnectTimeout = options.AsyncTimeout = options.SyncTimeout = 2_000;
        return options;
    }

    public async Task<bool> IsReached(CancellationToken cancel)
    {
        if (_redis is null)
            return true;
        try
        {
            var connection = await _redis.Value.WaitAsync(cancel);
            await connection.GetDatabase().PingAsync().WaitAsync(cancel);
            return true;
        }
        catch (Exception e) when (e is RedisException or TimeoutException or OperationCanceledException)
        {
            return false;
        }
    }

    public void Dispose()
    {
        if (_redis is { IsValueCreated: true, Value.IsCompletedSuccessfully: true })
            _redis.Value.Result.Dispose();
    }

    /// <summary>Orleans and SignalR for one process or many.</summary>
    public static void Configure(WebApplicationBuilder builder)
    {
        var redis = builder.Configuration["KIVREN_REDIS"] is { Length: > 0 } given ? given : null;
        builder.Services.AddSingleton(new Cluster(redis));
        var signals = builder.Services.AddSignalR(options => options.MaximumReceiveMessageSize = 1 << 16);
        if (redis is not null)
            signals.AddStackExchangeRedis(options =>
            {
                options.Configuration = Options(redis);
                options.Configuration.ChannelPrefix = RedisChannel.Literal("kivren");
            });
        builder.Host.UseOrleans(silo =>
        {
            // No gateway: nobody but the cluster's own processes talks to a silo.
            if (redis is null)
                silo.UseLocalhostClustering(FreePort(), FreePort());
            else
            {
                silo.UseRedisClustering(options => options.ConfigurationOptions = Options(redis));
                silo.Configure<ClusterOptions>(options => (options.ClusterId, options.ServiceId) = ("kivren", "kivren"));
            }
            var port = FreePort();
            silo.Configure<EndpointOptions>(options =>
            {
                (options.AdvertisedIPAddress, options.SiloPort, options.GatewayPort) = (IPAddress.Loopback, port, 0);
                options.SiloListeningEndpoint = new IPEndPoint(IPAddress.Loopback, port);
                options.GatewayListeningEndpoint = null;
            });
            // A process that was killed is known to be dead within seconds, so that its manuals are opened elsewhere.
            silo.Configure<ClusterMembershipOptions>(options =>
            {
                (options.ProbeTimeout, options.NumMissedProbesLimit, options.NumVotesForDeathDeclaration) = (TimeSpan.FromSeconds(1), 2, 1);
                (options.TableRefreshTimeout, options.IAmAliveTablePublishTimeout) = (TimeSpan.FromSeconds(5), TimeSpan.FromSeconds(5));
            });
            silo.Configure<SiloMessagingOptions>(options =>
                options.ResponseTimeout = options.SystemResponseTimeout = TimeSpan.FromMinutes(3)
            );
            // A manual that nobody looks at is closed after a while.
            var idle = TimeSpan.FromSeconds(
                int.TryParse(builder.Configuration["KIVREN_IDLE_SECONDS"], out var seconds) ? Math.Max(10, seconds) : 600
            );
            silo.Configure<GrainCollectionOptions>(options =>
                (options.CollectionAge, options.CollectionQuantum) = (idle, TimeSpan.FromSeconds(Math.Clamp(idle.TotalSeconds / 4, 2, 60)))
            );
            silo.Services.AddSerializerOfMessages();
        });
    }

    private static int FreePort()
    {
        using var listener = new System.Net.Sockets.TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        return ((IPEndPoint)listener.LocalEndpoint).Port;
    }
}

internal static class MessageSerializer
{
    /// <summary>Messages of projects that know nothing of the cluster go as JSON.</summary>
    public static void AddSerializerOfMessages(this IServiceCollection services) =>
        Orleans.Serialization.ServiceCollectionExtensions.AddSerializer(services, serializer =>
            Orleans.Serialization.SerializationHostingExtensions.AddJsonSerializer(serializer, type =>
                type.Namespace is "Kivren.Desk" or "Kivren.Store" or "Kivren.Core.Content"
            )
        );
}
