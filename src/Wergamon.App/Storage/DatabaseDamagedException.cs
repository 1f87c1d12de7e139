namespace Wergamon.App.Storage;

/// <summary>The database file cannot be used. The message says, for the person, what was done and what to do.</summary>
public sealed class DatabaseDamagedException : Exception
{
    public DatabaseDamagedException(string message) : base(message) { }

    public DatabaseDamagedException(string message, Exception inner) : base(message, inner) { }

    public DatabaseDamagedException() { }
}
