using Wergamon.App.Runs;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>What items of a stick's run do.</summary>
public static class StickRuns
{
    public static bool IsWriting(RunItemRow item) => ActionOf(item) == StickAction.Write;

    public static bool IsRemoval(RunItemRow item) => ActionOf(item) == StickAction.Remove;

    private static StickAction? ActionOf(RunItemRow item) =>
        StickFileHandler.ItemKind.Is(item) ? StickFileHandler.ItemKind.SpecOf(item).Action : null;
}
