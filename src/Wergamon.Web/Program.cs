using System.Globalization;
using Serilog;
using Wergamon.App;
using Wergamon.App.Intake;
using Wergamon.App.Library;
using Wergamon.Web;

CultureInfo.DefaultThreadCurrentCulture = CultureInfo.CurrentCulture = CultureInfo.InvariantCulture;
if (CommandLine.Read(args) is not { } command)
{
    Console.Error.WriteLine(CommandLine.Usage);
    return 2;
}

// Scans and surveys hold some threads for long, since SQLite answers while one waits: a page must not wait until the pool sees that it needs more.
const int ThreadsAtOnce = 16;
ThreadPool.SetMinThreads(ThreadsAtOnce, ThreadsAtOnce);

var builder = WebApplication.CreateBuilder(new WebApplicationOptions { ContentRootPath = AppContext.BaseDirectory, WebRootPath = command.WebRoot });
builder.WebHost.UseUrls($"http://127.0.0.1:{command.Port}");
builder.WebHost.UseStaticWebAssets();
builder.Configuration["AllowedHosts"] = "127.0.0.1;localhost";
builder.Services.AddSerilog(log => log
    .MinimumLevel.Information()
    .MinimumLevel.Override("Microsoft.AspNetCore", Serilog.Events.LogEventLevel.Warning)
    .WriteTo.File(Path.Combine(command.Options.DataFolder, "logs", "wergamon-.log"), formatProvider: CultureInfo.InvariantCulture, rollingInterval: RollingInterval.Day, retainedFileCountLimit: 14));
builder.Services.AddWergamon(command.Options);
builder.Services.AddSingleton<StationFacts>();
builder.Services.AddRazorPages();
builder.Services.AddRouting(options => options.LowercaseUrls = true);

var app = builder.Build();
app.UseExceptionHandler("/error");
app.UseStatusCodePagesWithReExecute("/error", "?status={0}");
app.UseSecurityHeaders();
app.UseStaticFiles();
app.UseRouting();
app.MapRazorPages();
app.MapSound();
app.MapDiscSound();
app.MapHandingOver();
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
return 0;
