using Microsoft.Data.Sqlite;

namespace Wergamon.App.Storage;

/// <summary>Why the database cannot be written now, for the person.</summary>
public sealed record StorageProblem(string Text)
{
    // Primary result codes of SQLite (sqlite.org/rescode.html).
    private const int Busy = 5, Locked = 6, ReadOnly = 8, InputOutput = 10, Full = 13, CannotOpen = 14;

    /// <summary>The database file has disappeared.</summary>
    public static StorageProblem Gone(string path) =>
        new(
            $"The database {path} was removed or replaced while Wergamon was running. Nothing is saved until it is back. Put it back, or "
                + "stop Wergamon and start it with --restore.");

    /// <summary>The problem behind a failure that is temporary or can be fixed by the person; null for any other failure.</summary>
    public static StorageProblem? Of(SqliteException failure) => failure.SqliteErrorCode switch
    {
        Busy or Locked => new StorageProblem("The database is locked by another program. Wergamon waits until it is free."),
        Full => new StorageProblem("The disk with the data folder is full. Wergamon waits; free some space and it continues."),
        ReadOnly =>
            new StorageProblem("The database cannot be written: its disk or file is read-only. Wergamon waits until it can be written."),
        InputOutput or CannotOpen => new StorageProblem("The disk with the data folder reports errors. Wergamon waits and tries again."),
        _ => null,
    };
}
