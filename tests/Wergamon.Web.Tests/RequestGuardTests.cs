using Microsoft.AspNetCore.Http;
using Wergamon.App.Storage;
using Wergamon.Web.Auth;

namespace Wergamon.Web.Tests;

public sealed class RequestGuardTests
{
    [Theory]
    [InlineData("127.0.0.1:5080", true)]
    [InlineData("localhost:5080", true)]
    [InlineData("LOCALHOST:5080", true)]
    [InlineData("", false)]
    [InlineData("127.0.0.1", false)]
    [InlineData("127.0.0.1:99999", false)]
    [InlineData("127.0.0.1:5081", false)]
    [InlineData("127.0.0.1:", false)]
    [InlineData("music.example:5080", false)]
    [InlineData("127.0.0.1.music.example:5080", false)]
    public void Only_this_machine_s_own_names_and_port_are_answered(string host, bool expected) =>
        Assert.Equal(expected, RequestGuard.IsOwn(host, 5080));

    [Fact]
    public void Failures_map_to_the_right_status()
    {
        Assert.Equal(503, RequestFailures.StatusOf(new StorageProblemException("full")));
        Assert.Equal(507, RequestFailures.StatusOf(new IOException("No space left on device", 28)));
        Assert.Equal(413, RequestFailures.StatusOf(new BadHttpRequestException("too large", 413)));
        Assert.Equal(400, RequestFailures.StatusOf(new System.Text.Json.JsonException()));
        Assert.Equal(500, RequestFailures.StatusOf(new InvalidOperationException()));
    }
}
