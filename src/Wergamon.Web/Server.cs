using System.Globalization;
using System.Net;
using Microsoft.AspNetCore.Http.Features;
using Serilog;
using Wergamon.App;
using Wergamon.App.Library.Scan;
using Wergamon.Core.Bytes;
using Wergamon.Web.Auth;
using Wergamon.Web.Display;
using Wergamon.Web.Endpoints;
using Wergamon.Web.Pages.Intake;

namespace Wergamon.Web;

/// <summary>Assembles the server.</summary>
internal static class Server
{
    private const int MaxPicks = 100_000;

    /// <summary>The application, not started yet; its library begins with the folders of the command line.</summary>
    /// <param name="listen">Address to listen on; null for the port of the command line on this machine alone.</param>
    public static WebApplication Build(CommandLine command, Action<IWebHostBuilder>? listen = null)
    {
        var builder = WebApplication.CreateBuilder(new WebApplicationOptions
        {
            ApplicationName = typeof(Server).Assembly.GetName().Name,
            ContentRootPath = AppContext.BaseDirectory,
            WebRootPath = command.WebRoot,
        });
        // Nothing in the environment may open another address or host.
        builder.Configuration.Sources.Clear();
        if (listen is null)
            builder.WebHost.UseStaticWebAssets().ConfigureKestrel(kestrel => kestrel.Listen(IPAddress.Loopback, command.Port));
        else
            listen(builder.WebHost);
        builder.Services.AddSerilog(log => log
            .MinimumLevel.Information()
            .MinimumLevel.Override("Microsoft.AspNetCore", Serilog.Events.LogEventLevel.Warning)
            .MinimumLevel.Override("Microsoft.AspNetCore.Diagnostics.ExceptionHandlerMiddleware", Serilog.Events.LogEventLevel.Error)
            .WriteTo.File(
                Path.Combine(command.Options.DataFolder, "logs", "wergamon-.log"), formatProvider: CultureInfo.InvariantCulture,
                rollingInterval: RollingInterval.Day, retainedFileCountLimit: 14));
        builder.Services.AddWergamon(command.Options);
        builder.Services.AddSingleton<StationFacts>();
        builder.Services.AddSingleton<RunLabels>();
        builder.Services.AddSingleton<RepeatedSubmitFilter>();
        builder.Services.AddSingleton<Pages.Bench.BenchRails>();
        builder.Services.AddSingleton<DiscRipViews>();
        builder.Services.AddSingleton<DiscViews>();
        builder.Services.AddSingleton<Pages.Sets.SetTagSheets>();
        builder.Services.AddSingleton<Pages.Deliver.DeliveryOutcomes>();
        builder.Services.AddSingleton<Pages.Deliver.DeliveryPageParts>();
        builder.Services.AddSingleton<Pages.Deliver.Front.NewDeliveries>();
        builder.Services.AddSingleton<Pages.Deliver.Front.OriginalsDownload>();
        builder.Services.AddSingleton<Pages.Deliver.Front.KnownSticks>();
        builder.Services.AddRazorPages()
            .AddMvcOptions(options =>
            {
                options.MaxModelBindingCollectionSize = MaxPicks;
                options.ModelMetadataDetailsProviders.Add(new EmptyElements());
                options.Filters.Add<PageRequestFilter>();
                options.Filters.AddService<RepeatedSubmitFilter>();
            })
            .AddJsonOptions(json => json.JsonSerializerOptions.Converters.Add(new WellFormedTextConverter()))
            // Messages for the next page stay here: in cookies a long one would make every further request too large.
            .AddSessionStateTempDataProvider();
        builder.Services.AddSession(session => (session.Cookie.Name, session.Cookie.SameSite) = ("wergamon-session", SameSiteMode.Strict));
        // An exception that a service does not catch must not end the others.
        builder.Services.Configure<HostOptions>(
            host => host.BackgroundServiceExceptionBehavior = BackgroundServiceExceptionBehavior.Ignore);
        builder.Services.Configure<FormOptions>(form => form.ValueCountLimit = 2 * MaxPicks);
        builder.Services.ConfigureHttpJsonOptions(json => json.SerializerOptions.TypeInfoResolverChain.Insert(0, UploadJson.Default));
        builder.Services.AddRouting(options => options.LowercaseUrls = true);

        var app = builder.Build();
        app.UseRequestGuard(command.Port);
        app.UseExceptionHandler(RequestFailures.Options);
        app.UseStatusCodePagesWithReExecute("/error", "?status={0}");
        app.UseSecurityHeaders();
        app.UseStaticFiles();
        app.UseLastEvents();
        app.UseRouting();
        app.UseWellFormedRequests();
        app.UseSession();
        app.MapRazorPages();
        app.MapAudio();
        app.MapBench();
        app.MapReports();
        app.MapDiscAudio();
        app.MapUploads();
        app.MapArtwork();
        app.MapEvents();
        app.Services.ForwardLibrarySignals();
        BeginLibrary(app.Services, command);
        return app;
    }

    private static void BeginLibrary(IServiceProvider services, CommandLine command)
    {
        services.GetRequiredService<DemoMusic>().BeginWith();
        var folders = services.GetRequiredService<MusicFolders>();
        foreach (var folder in command.FirstFolders)
        {
            if (folders.List().Count == 0)
                folders.Add(folder);
        }
    }
}
