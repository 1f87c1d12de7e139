using System.Globalization;
using Wergamon.App.Storage;
using Wergamon.Web;

CultureInfo.DefaultThreadCurrentCulture = CultureInfo.CurrentCulture = CultureInfo.InvariantCulture;
if (MachineLimits.Problem() is { } problem)
{
    Console.Error.WriteLine(problem);
    return StartFailure.TooLittle;
}

var arguments = ServerArguments.Parse(args);
if (arguments.Errors.Count > 0)
{
    foreach (var error in arguments.Errors)
        Console.Error.WriteLine(error.Message);
    Console.Error.WriteLine("--help lists all arguments.");
    return StartFailure.WrongArguments;
}

// Help, or the version.
if (arguments.Action is not null)
    return await arguments.InvokeAsync().ConfigureAwait(false);

var command = CommandLine.From(arguments);
return await StartFailure.GuardAsync(command, async () =>
{
    using var folderLock = DataFolderLock.Take(command.Options.DataFolder) ?? throw new DataFolderInUseException();

    // Scans and analyses block threads for long, since SQLite calls are synchronous: a page must not wait for the pool to grow.
    const int ThreadsAtOnce = 16;
    ThreadPool.SetMinThreads(ThreadsAtOnce, ThreadsAtOnce);

    var app = Server.Build(command);
    app.Lifetime.ApplicationStarted.Register(() => Console.WriteLine($"Wergamon is at http://127.0.0.1:{command.Port}"));
    await app.RunAsync().ConfigureAwait(false);
});
