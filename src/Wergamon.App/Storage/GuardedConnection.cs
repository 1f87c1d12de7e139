using Microsoft.Data.Sqlite;

namespace Wergamon.App.Storage;

/// <summary>
/// A connection that is taken from the pool and returned under a lock: while the pool looks for lost connections, it may
/// take one for lost that another thread is just opening or closing, and give it to two.
/// </summary>
internal sealed class GuardedConnection(string connectionString, Lock gate) : SqliteConnection(connectionString)
{
    public override void Open()
    {
        lock (gate)
            base.Open();
    }

    public override void Close()
    {
        lock (gate)
            base.Close();
    }
}
