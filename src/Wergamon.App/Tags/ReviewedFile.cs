using System.Text.Json;
using System.Text.Json.Serialization;
using Wergamon.App.Runs;
using Wergamon.Core.Tags;

namespace Wergamon.App.Tags;

/// <summary>The file as the library knew it when its changes were reviewed: <see cref="Files.FileStamp"/>.</summary>
public sealed record ReviewedFile(long Bytes, long ModifiedAt, long Number);
