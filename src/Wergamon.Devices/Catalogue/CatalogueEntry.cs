using System.Text;
using System.Text.Json;
using Wergamon.Core.Audio;
using Wergamon.Core.Discs;
using Wergamon.Core.Naming;
using Wergamon.Devices.Drives;

namespace Wergamon.Devices.Catalogue;

/// <summary>A candidate for a disc, with its cover.</summary>
public sealed record CatalogueEntry(CatalogueRecord Record, byte[]? Cover);
