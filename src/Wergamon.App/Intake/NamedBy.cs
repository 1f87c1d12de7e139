using System.Data;
using System.Text.Json;
using Dapper;
using Wergamon.App.Library;
using Wergamon.App.Storage;
using Wergamon.Core.Discs;
using Wergamon.Core.Formats.Iff;
using Wergamon.Core.Tags;

namespace Wergamon.App.Intake;

/// <summary>Where the names of a disc came from.</summary>
public static class NamedBy
{
    public const string Catalogue = "catalogue";
    public const string DiscText = "disc text";
    public const string Typed = "typed";
    public const string None = "none";
}
