using System.Globalization;
using System.Net;
using Microsoft.AspNetCore.Http.Features;
using Serilog;
using Wergamon.App;
using Wergamon.App.Intake;
using Wergamon.App.Library;
using Wergamon.App.Storage;
using Wergamon.Web;
using Wergamon.Web.Auth;
using Wergamon.Web.Display;
using Wergamon.Web.Endpoints;

CultureInfo.DefaultThreadCurrentCulture = CultureInfo.CurrentCulture = CultureInfo.InvariantCulture;
if (CommandLine.Read(args) is not { } command)
{
    Console.Error.WriteLine(CommandLine.Usage);
    return StartFailure.WrongArguments;
}

return await StartFailure.GuardAsync(command, async () =>
{
    using var folderLock = DataFolderLock.Take(command.Options.DataFolder) ?? throw new DataFolderInUseException();

    // Scans and analyses hold some threads for long, since SQLite answers while one waits: a page must not wait until the pool grows.
    const int ThreadsAtOnce = 16, MaxPicks = 100_000;
    ThreadPool.SetMinThreads(ThreadsAtOnce, ThreadsAtOnce);

    var builder = WebApplication.CreateBuilder(new WebApplicationOptions { ContentRootPath = AppContext.BaseDirectory, WebRootPath = command.WebRoot });
    // Nothing in the environment may open another address or host.
    builder.Configuration.Sources.Clear();
    builder.WebHost.UseStaticWebAssets().ConfigureKestrel(kestrel => kestrel.Listen(IPAddress.Loopback, command.Port));
    builder.Services.AddSerilog(log => log
        .MinimumLevel.Information()
        .MinimumLevel.Override("Microsoft.AspNetCore", Serilog.Events.LogEventLevel.Warning)
        .MinimumLevel.Override("Microsoft.AspNetCore.Diagnostics.ExceptionHandlerMiddleware", Serilog.Events.LogEventLevel.Error)
        .WriteTo.File(Path.Combine(command.Options.DataFolder, "logs", "wergamon-.log"), formatProvider: CultureInfo.InvariantCulture, rollingInterval: RollingInterval.Day, retainedFileCountLimit: 14));
    builder.Services.AddWergamon(command.Options);
    builder.Services.AddSingleton<StationFacts>();
    builder.Services.AddRazorPages().AddMvcOptions(options => options.MaxModelBindingCollectionSize = MaxPicks);
    builder.Services.Configure<FormOptions>(form => form.ValueCountLimit = 2 * MaxPicks);
    builder.Services.AddRouting(options => options.LowercaseUrls = true);

    var app = builder.Build();
    app.UseRequestGuard(command.Port);
    app.UseExceptionHandler(RequestFailures.Options);
    app.UseStatusCodePagesWithReExecute("/error", "?status={0}");
    app.UseSecurityHeaders();
    app.UseStaticFiles();
    app.UseRouting();
    app.MapRazorPages();
    app.MapAudio();
    app.MapDiscAudio();
    app.MapUploads();
    app.MapArtwork();
    app.MapEvents();
    app.Services.ForwardLibrarySignals();
    // Rips that start by themselves need nobody who looks at the page.
    app.Services.GetRequiredService<DiscRips>();

    foreach (var folder in command.FirstFolders)
    {
        if (app.Services.GetRequiredService<MusicFolders>().List().Count == 0)
            app.Services.GetRequiredService<MusicFolders>().Add(folder);
    }

    app.Lifetime.ApplicationStarted.Register(() => Console.WriteLine($"Wergamon is at http://127.0.0.1:{command.Port}"));
    await app.RunAsync().ConfigureAwait(false);
});
