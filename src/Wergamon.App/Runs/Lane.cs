namespace Wergamon.App.Runs;

/// <summary>The resource that an item needs exclusively. Lanes not listed here take one item at a time.</summary>
public static class Lane
{
    /// <summary>A worker process; as many items at a time as there are workers.</summary>
    public const string Worker = "worker";

    /// <summary>Small work on files that needs no worker.</summary>
    public const string Files = "files";

    /// <summary>Images of discs, which take as long as the disk does.</summary>
    public const string Image = "image";

    public static string Drive(string letter) => "drive " + letter;

    public static string Stick(long id) => FormattableString.Invariant($"stick {id}");
}
