using Microsoft.AspNetCore.Connections;
using Wergamon.App.Storage;

namespace Wergamon.Web;

/// <summary>Another server uses the data folder.</summary>
internal sealed class DataFolderInUseException : Exception;
