using System.Text;
using System.Text.Json;
using Wergamon.Core.Audio;
using Wergamon.Core.Discs;
using Wergamon.Core.Naming;
using Wergamon.Devices.Drives;

namespace Wergamon.Devices.Catalogue;

/// <summary>How the simulated catalogue answers, to try out failures.</summary>
public enum CatalogueMood
{
    Quick,
    Slow,
    Down,
    Wrong,
}
