using System.Text.Json;
using Dapper;
using Microsoft.Data.Sqlite;

namespace Wergamon.App.Storage;

/// <summary>
/// Paths in the database that were recorded through a link to the data folder, as earlier versions did: they get the folder's own name,
/// since links are not followed.
/// </summary>
internal static class DataFolderName
{
    /// <summary>Columns with documents in which paths occur.</summary>
    private static readonly (string Table, string Column)[] Documents =
    [
        ("run_item", "spec"), ("run_item", "result"), ("run_item", "checkpoint"), ("plan_item", "file"), ("delivery", "settings"),
    ];

    public static void Settle(SqliteConnection connection, string named, string real)
    {
        using var transaction = connection.BeginTransaction();
        var columns = connection.Query<(string Table, string Column)>(
            """
            SELECT m.name, p.name FROM sqlite_schema m, pragma_table_info(m.name) p
            WHERE m.type = 'table' AND (p.name LIKE '%path' OR p.name LIKE '%folder' OR p.name = 'place') AND p.type = 'TEXT'
                AND m.name NOT LIKE 'track\_text%' ESCAPE '\'
            """,
            transaction: transaction).AsList();
        foreach (var (table, column) in columns)
        {
            connection.Execute(
                $"""
                UPDATE OR IGNORE "{table}" SET "{column}" = @real || substr("{column}", length(@named) + 1)
                WHERE substr("{column}", 1, length(@named) + 1) = @named || '/'
                """,
                new { named, real },
                transaction);
        }

        foreach (var (table, column) in Documents)
        {
            connection.Execute(
                $"""UPDATE "{table}" SET "{column}" = replace("{column}", @from, @to) WHERE instr("{column}", @from) > 0""",
                new { from = InJson(named), to = InJson(real) },
                transaction);
        }

        transaction.Commit();
    }

    /// <summary>How a path below a folder begins in a document.</summary>
    private static string InJson(string folder) => JsonSerializer.Serialize(folder + "/")[..^1];
}
