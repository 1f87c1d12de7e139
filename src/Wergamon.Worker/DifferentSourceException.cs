using Wergamon.Codecs;
using Wergamon.Core.Audio;
using Wergamon.Core.Jobs;
using Wergamon.Core.Planning;

namespace Wergamon.Worker;

/// <summary>The source decodes to another format than the plan was made for.</summary>
internal sealed class DifferentSourceException(DifferentSourceReply reply) : Exception(reply.Failure)
{
    public DifferentSourceReply Reply => reply;
}
