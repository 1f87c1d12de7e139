namespace Wergamon.App.Runs;

/// <summary>States of a run; in the database by their names in lower case.</summary>
public enum RunState
{
    Running,
    Stopped,
    Done,
}
