using System.Text.Json.Serialization;

namespace Wergamon.Web.Display;

[JsonSerializable(typeof(string[]))]
internal sealed partial class ListJson : JsonSerializerContext;
