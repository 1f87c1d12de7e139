using System.CommandLine;
using System.CommandLine.Parsing;
using System.Globalization;
using System.Numerics;

namespace Wergamon.Web;

/// <summary>The arguments of the server.</summary>
internal static class ServerArguments
{
    public static readonly Option<int> Port = Number("--port", 5080, 1, 65_535, "Port on 127.0.0.1.");

    public static readonly Option<string> Data = Text("--data", "FOLDER", "The application's own folder.", "data");

    public static readonly Option<string[]> Allow = Folders(
        "--allow", "Music folders and output folders may be below this one, too; the home folder is always allowed.");

    public static readonly Option<string[]> Music = Folders("--music", "Music folder of a library that has none yet.");

    public static readonly Option<string> Demo = Text("--demo", "FOLDER", "Folder of the demo music, with which a new library begins.");

    public static readonly Option<int> Workers = Number(
        "--workers", Environment.ProcessorCount, 1, 1024, "Number of tracks that are worked on at a time.");

    public static readonly Option<string> Rack = Text("--rack", "FOLDER", "Folder of the simulated discs.");

    public static readonly Option<double> DriveSpeed = Number(
        "--drive-speed", 1.0, 0.001, 1e9, "Speed of the simulated drives against real ones.");

    public static readonly Option<bool> Restore = new("--restore")
    {
        Description = "Restore the newest backup of the database; the current one is set aside.",
    };

    public static readonly Option<string> RestoreFrom = Text("--restore-from", "NAME", "Restore the backup of this name.");

    public static readonly Option<bool> NewLibrary = new("--new-library")
    {
        Description = "Start with an empty library although there is a backup of an older one.",
    };

    private static readonly RootCommand Command = new("Serves Wergamon to a browser on this machine.")
    {
        Port, Data, Allow, Music, Demo, Workers, Rack, DriveSpeed, Restore, RestoreFrom, NewLibrary,
    };

    /// <returns>With the errors; with an action if the arguments ask for help or the version instead of a start.</returns>
    public static ParseResult Parse(IReadOnlyList<string> arguments) =>
        Command.Parse(arguments, new ParserConfiguration { ResponseFileTokenReplacer = null });

    private static void RefuseEmpty(OptionResult result)
    {
        if (result.Tokens.Any(token => string.IsNullOrWhiteSpace(token.Value)))
            result.AddError($"{result.Option.Name} must not be empty.");
    }

    private static Option<string[]> Folders(string name, string description) => new(name)
    {
        HelpName = "FOLDER",
        Description = description + " Can be given several times.",
        DefaultValueFactory = _ => [],
        Validators = { RefuseEmpty },
    };

    /// <summary>An argument with one value; given again, the last one counts, so that a script's own can be overridden.</summary>
    private static Option<string> Text(string name, string value, string description, string? usual = null)
    {
        var option = new Option<string>(name)
        {
            HelpName = value,
            Description = description,
            Arity = ArgumentArity.OneOrMore,
            CustomParser = result => result.Tokens[^1].Value,
            Validators = { RefuseEmpty },
        };
        if (usual is not null)
            option.DefaultValueFactory = _ => usual;
        return option;
    }

    private static Option<T> Number<T>(string name, T usual, T min, T max, string description) where T : struct, INumber<T> => new(name)
    {
        HelpName = "NUMBER",
        Description = description,
        Arity = ArgumentArity.OneOrMore,
        DefaultValueFactory = _ => usual,
        CustomParser = result =>
        {
            if (T.TryParse(result.Tokens[^1].Value, CultureInfo.InvariantCulture, out var number) && number >= min && number <= max)
                return number;
            result.AddError(string.Create(CultureInfo.InvariantCulture, $"{name} must be a number from {min} to {max}."));
            return usual;
        },
    };
}
