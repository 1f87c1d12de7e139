using Microsoft.AspNetCore.Connections;
using Wergamon.App.Storage;

namespace Wergamon.Web;

/// <summary>Reports why the server cannot start in one line, with an exit code.</summary>
internal static class StartFailure
{
    public const int WrongArguments = 2, TooLittle = 7;

    private const int DataFolderInUse = 3, PortInUse = 4, DatabaseDamaged = 5, NoAccess = 6;

    public static async Task<int> GuardAsync(CommandLine command, Func<Task> run)
    {
        try
        {
            await run().ConfigureAwait(false);
            return 0;
        }
        catch (DataFolderInUseException)
        {
            return Say(
                DataFolderInUse,
                $"Another Wergamon is already using {command.Options.DataFolder}. Stop it first, or start with another --data folder.");
        }
        catch (IOException failure) when (failure.InnerException is AddressInUseException)
        {
            return Say(
                PortInUse,
                $"Port {command.Port} is used by another program. Start with another one, for example --port {command.Port + 1}.");
        }
        catch (DatabaseDamagedException failure)
        {
            return Say(DatabaseDamaged, failure.Message);
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
        {
            return Say(NoAccess, $"Wergamon cannot start: {failure.Message}");
        }
    }

    private static int Say(int exitCode, string message)
    {
        Console.Error.WriteLine(message);
        return exitCode;
    }
}
