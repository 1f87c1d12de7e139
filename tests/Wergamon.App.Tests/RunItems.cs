using Wergamon.App.Copies;
using Wergamon.App.Runs;
using Wergamon.Core.Jobs;

namespace Wergamon.App.Tests;

/// <summary>Details of an item that makes a copy, for tests.</summary>
internal static class RunItems
{
    public static CopySpec Spec(this RunItemRow item) => CopySpec.Of(item);

    public static string Path(this RunItemRow item) => CopyResult.Of(item)!.Path;

    public static Proof Proof(this RunItemRow item) => CopyResult.Of(item)!.Proof;
}
