namespace Wergamon.App.Runs;

/// <summary>States and reasons as they are written in the database and in pages.</summary>
public static class StateNames
{
    public static string Text(this RunState state) => state.ToString().ToLowerInvariant();

    public static string Text(this ItemState state) => state.ToString().ToLowerInvariant();

    public static string Text(this WaitReason reason) => reason.ToString().ToLowerInvariant();
}
