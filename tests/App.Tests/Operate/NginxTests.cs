using System.Diagnostics;
using System.Net;
using System.Net.Sockets;
using System.Text;

namespace DapperLantern.App.Tests.Operate;

/// <summary>The example for nginx, as it stands in the documents but for its name, ports and certificate: Debian's nginx in front of a server.</summary>
public sealed class NginxTests : IAsyncLifetime
{
    private const string Name = "lantern.company.example";

    private readonly string _folder = Directory.CreateTempSubdirectory("lantern-nginx").FullName;
    private readonly int _secure = Ports.Free();
    private readonly int _plain = Ports.Free();
    private TestServer _server = null!;
    private Process _nginx = null!;
    private HttpClient _http = null!;

    public async ValueTask InitializeAsync()
    {
        _server = await TestServer.Start($"--Public:Address=https://{Name}:{_secure}", "--Proxy:Addresses=127.0.0.1");
        Run("openssl", "req", "-x509", "-newkey", "rsa:2048", "-nodes", "-days", "2", "-subj", "/CN=localhost", "-keyout", At("key"), "-out", At("crt"));
        var example = await File.ReadAllTextAsync(Path.Combine(TestServer.Root, "docs", "operate", "nginx.conf"));
        foreach (
            var (was, here) in ((string, string)[])
                [
                    ("/etc/ssl/lantern.crt", At("crt")),
                    ("/etc/ssl/private/lantern.key", At("key")),
                    ("listen 443 ssl", $"listen 127.0.0.1:{_secure} ssl"),
                    ("listen 80", $"listen 127.0.0.1:{_plain}"),
                    ("http://127.0.0.1:5180", _server.Address),
                ]
        )
        {
            example.ShouldContain(was);
            example = example.Replace(was, here, StringComparison.Ordinal);
        }
        var own =
            $"pid {At("pid")}; error_log {At("error.log")}; worker_processes 1; events {{}}\nhttp {{ access_log off; client_body_temp_path {At("body")}; proxy_temp_path {At("proxy")}; fastcgi_temp_path {At("f")}; uwsgi_temp_path {At("u")}; scgi_temp_path {At("s")};\n{example}\n}}";
        await File.WriteAllTextAsync(At("nginx.conf"), own);
        _nginx = Process.Start(new ProcessStartInfo("/usr/sbin/nginx", ["-c", At("nginx.conf"), "-e", At("error.log"), "-g", "daemon off;"]))!;
        var trusting = new SocketsHttpHandler
        {
            // The name is looked up nowhere: it is this machine.
            ConnectCallback = async (to, cancel) =>
            {
                var socket = new Socket(SocketType.Stream, ProtocolType.Tcp);
                await socket.ConnectAsync(IPAddress.Loopback, to.DnsEndPoint.Port, cancel);
                return new NetworkStream(socket, ownsSocket: true);
            },
            AllowAutoRedirect = false,
        };
        trusting.SslOptions.RemoteCertificateValidationCallback = (_, _, _, _) => true;
        _http = new HttpClient(trusting) { BaseAddress = new Uri($"https://{Name}:{_secure}") };
        await Eventually.Holds(() => Task.FromResult(Listens(_secure)));
    }

    public async ValueTask DisposeAsync()
    {
        _http.Dispose();
        _nginx.Kill(entireProcessTree: true);
        await _nginx.WaitForExitAsync();
        await _server.DisposeAsync();
        Directory.Delete(_folder, recursive: true);
    }

    private string At(string name) => Path.Combine(_folder, name);

    private static bool Listens(int port)
    {
        try
        {
            using var client = new TcpClient();
            client.Connect(IPAddress.Loopback, port);
            return true;
        }
        catch (SocketException)
        {
            return false;
        }
    }

    private static void Run(string program, params string[] arguments)
    {
        using var process = Process.Start(new ProcessStartInfo(program, arguments) { RedirectStandardError = true })!;
        process.StandardError.ReadToEnd();
        process.WaitForExit();
        process.ExitCode.ShouldBe(0);
    }

    [Fact]
    public async Task SignInCookiesAndTheVisitorsAddressComeThrough()
    {
        using (var moved = await _http.GetAsync($"http://{Name}:{_plain}/desk"))
        {
            moved.StatusCode.ShouldBe(HttpStatusCode.MovedPermanently);
            moved.Headers.Location!.Scheme.ShouldBe("https");
        }
        using var body = new StringContent("""{"name":"tor.vik","password":"lantern-demo-1"}""", Encoding.UTF8, "application/json");
        using var entered = await _http.PostAsync("/api/session", body);
        entered.StatusCode.ShouldBe(HttpStatusCode.NoContent);
        var cookies = entered.Headers.GetValues("Set-Cookie").ToList();
        cookies.ShouldAllBe(c => c.Contains("secure", StringComparison.OrdinalIgnoreCase));
        cookies.ShouldContain(c => c.StartsWith("__Host-", StringComparison.Ordinal));
        (await _server.Scalar<string>("select address from session order by started_at desc limit 1")).ShouldBe("127.0.0.1");
        using var page = await _http.GetAsync("/f/site-survey");
        page.StatusCode.ShouldBe(HttpStatusCode.OK);
        page.Headers.Contains("Strict-Transport-Security").ShouldBeTrue();
    }

    [Fact]
    public async Task NoticesStreamAndALongListIsLetThrough()
    {
        using var body = new StringContent("""{"name":"ingrid.brekke","password":"lantern-demo-1"}""", Encoding.UTF8, "application/json");
        using (var entered = await _http.PostAsync("/api/session", body))
            entered.StatusCode.ShouldBe(HttpStatusCode.NoContent);
        // The head of a stream comes at once, and not when a buffer is full.
        using var soon = new CancellationTokenSource(TimeSpan.FromSeconds(20));
        using (var stream = await _http.GetAsync("/api/notices/live", HttpCompletionOption.ResponseHeadersRead, soon.Token))
            stream.Content.Headers.ContentType!.MediaType.ShouldBe("text/event-stream");
        // Ten megabytes: nginx takes one by itself.
        var session = System.Text.Json.JsonDocument.Parse(await _http.GetStringAsync("/api/session")).RootElement;
        var rows = new StringBuilder("Last name,Email,Notes\n");
        for (var i = 0; rows.Length < 10_000_000; i++)
            rows.Append(null, $"Long{i},long{i}@long.example,{new string('x', 400)}\n");
        using var form = new MultipartFormDataContent { { new ByteArrayContent(Encoding.UTF8.GetBytes(rows.ToString())), "file", "long.csv" } };
        using var request = new HttpRequestMessage(HttpMethod.Post, "/api/imports") { Content = form };
        request.Headers.Add("X-Lantern-Token", session.GetProperty("token").GetString());
        using var dropped = await _http.SendAsync(request);
        dropped.StatusCode.ShouldBe(HttpStatusCode.OK, await dropped.Content.ReadAsStringAsync());
    }
}
