using System.Text.Json.Serialization;

namespace Wergamon.Web;

[JsonSerializable(typeof(string[]))]
internal sealed partial class ListJson : JsonSerializerContext;
