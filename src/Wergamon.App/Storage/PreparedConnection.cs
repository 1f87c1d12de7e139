using System.Data;
using System.Data.Common;
using System.Diagnostics.CodeAnalysis;
using Microsoft.Data.Sqlite;

namespace Wergamon.App.Storage;

/// <summary>
/// A connection within a change that prepares each statement once, however often it is executed: with the triggers
/// of the tables, preparing a statement takes several times as long as executing it.
/// </summary>
internal sealed class PreparedConnection(SqliteConnection connection, SqliteTransaction transaction) : DbConnection
{
    private readonly Dictionary<string, SqliteCommand> _idle = [];

    /// <summary>What to do once the change is committed.</summary>
    public List<Action> AfterCommit { get; } = [];

    [AllowNull]
    public override string ConnectionString { get => connection.ConnectionString; set => throw new NotSupportedException(); }

    public override string Database => connection.Database;

    public override string DataSource => connection.DataSource;

    public override string ServerVersion => connection.ServerVersion;

    public override ConnectionState State => connection.State;

    public override void ChangeDatabase(string databaseName) => throw new NotSupportedException();

    public override void Close() => throw new NotSupportedException();

    public override void Open() => throw new NotSupportedException();

    protected override DbTransaction BeginDbTransaction(IsolationLevel isolationLevel) =>
        throw new NotSupportedException("A change is one transaction already.");

    protected override DbCommand CreateDbCommand() => new Command(this);

    protected override void Dispose(bool disposing)
    {
        foreach (var command in _idle.Values)
            command.Dispose();
        _idle.Clear();
        base.Dispose(disposing);
    }

    private SqliteCommand Take(string text)
    {
        if (_idle.Remove(text, out var ready))
            return ready;
        var command = connection.CreateCommand();
        (command.CommandText, command.Transaction) = (text, transaction);
        return command;
    }

    private void GiveBack(SqliteCommand command)
    {
        command.Parameters.Clear();
        // One that was taken twice is returned twice.
        if (!_idle.TryAdd(command.CommandText, command))
            command.Dispose();
    }

    /// <summary>Delegates to the prepared statement for its text.</summary>
    private sealed class Command(PreparedConnection owner) : DbCommand
    {
        private SqliteCommand? _ready;

        [AllowNull]
        public override string CommandText
        {
            get => _ready?.CommandText ?? "";
            set
            {
                // Lists in a statement are written out after its parameters were added.
                var parameters = _ready?.Parameters.Cast<SqliteParameter>().ToList() ?? [];
                if (_ready is not null)
                    owner.GiveBack(_ready);
                _ready = owner.Take(value ?? "");
                _ready.Parameters.AddRange(parameters);
            }
        }

        public override int CommandTimeout { get => Ready.CommandTimeout; set => Ready.CommandTimeout = value; }

        public override CommandType CommandType { get => CommandType.Text; set => Ready.CommandType = value; }

        public override bool DesignTimeVisible { get; set; }

        public override UpdateRowSource UpdatedRowSource { get => UpdateRowSource.None; set => throw new NotSupportedException(); }

        protected override DbConnection? DbConnection { get => owner; set => throw new NotSupportedException(); }

        protected override DbParameterCollection DbParameterCollection => Ready.Parameters;

        protected override DbTransaction? DbTransaction { get => Ready.Transaction; set => throw new NotSupportedException(); }

        private SqliteCommand Ready => _ready ?? throw new InvalidOperationException("A statement has no text yet.");

        public override void Cancel() => Ready.Cancel();

        public override int ExecuteNonQuery() => Ready.ExecuteNonQuery();

        public override object? ExecuteScalar() => Ready.ExecuteScalar();

        public override void Prepare() => Ready.Prepare();

        protected override DbParameter CreateDbParameter() => new SqliteParameter();

        protected override DbDataReader ExecuteDbDataReader(CommandBehavior behavior) =>
            Ready.ExecuteReader(behavior & ~CommandBehavior.CloseConnection);

        protected override void Dispose(bool disposing)
        {
            if (_ready is not null)
                owner.GiveBack(_ready);
            _ready = null;
            base.Dispose(disposing);
        }
    }
}
