using Dapper;
using Microsoft.Data.Sqlite;

namespace Wergamon.App.Storage;

/// <summary>Whether a file is a database that can be used.</summary>
internal static class DatabaseCheck
{
    // Primary result codes of SQLite (sqlite.org/rescode.html).
    private const int Corrupt = 11, NotADatabase = 26, SchemaError = 1;

    /// <summary>What is wrong with a database, in a few words; null if nothing is.</summary>
    public static string? DamageOf(string path)
    {
        if (Directory.Exists(path))
            return "a folder is in its place";
        if (new FileInfo(path) is { Exists: true, Length: 0 })
            return "the file is empty";
        try
        {
            using var connection = new SqliteConnection(
                new SqliteConnectionStringBuilder { DataSource = path, Mode = SqliteOpenMode.ReadWrite, Pooling = false }.ToString());
            connection.Open();
            var found = connection.ExecuteScalar<string>("PRAGMA quick_check(1)");
            if (found != "ok")
                return found?.ReplaceLineEndings(" ") ?? "it cannot be checked";
            // An empty database is a lost one: the first migration makes tables.
            return connection.ExecuteScalar<bool>("SELECT EXISTS (SELECT 1 FROM sqlite_schema WHERE name IN ('SchemaVersions', 'copy'))")
                ? null
                : "it has no library in it";
        }
        catch (SqliteException failure) when (failure.SqliteErrorCode is Corrupt or NotADatabase or SchemaError)
        {
            return failure.Message;
        }
    }
}
