using Microsoft.Extensions.DependencyInjection;
using Wergamon.App.Runs;

namespace Wergamon.App.Deliver.Files;

/// <summary>Joined files and zips.</summary>
internal static class FileServices
{
    public static IServiceCollection AddFiles(this IServiceCollection services) => services
        .AddSingleton<JoinedFiles>()
        .AddSingleton<ZippedFiles>()
        .AddSingleton(JoinedFiles.RunKind)
        .AddSingleton(ZippedFiles.RunKind)
        .AddSingleton<IItemHandler, JoinFileHandler>();
}
