using System.Text.Json;
using System.Text.Json.Serialization;
using Wergamon.App.Runs;
using Wergamon.Core.Analysis;
using Wergamon.Core.Discs.Reading;
using Wergamon.Core.Formats;
using Wergamon.Core.Jobs;
using Wergamon.Core.Planning;

namespace Wergamon.App.Library;

/// <summary>The kinds of items that make copies.</summary>
public static class CopyItemKind
{
    /// <summary>From a copy in the library.</summary>
    public const string Convert = "convert";

    /// <summary>From a track of a disc.</summary>
    public const string Rip = "rip-copy";

    /// <summary>For a disc or a stick.</summary>
    public const string Deliver = "deliver-file";

    /// <summary>Of several tracks.</summary>
    public const string Join = "join-file";
}
