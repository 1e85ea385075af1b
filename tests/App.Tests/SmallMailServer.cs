using System.Collections.Concurrent;
using System.Net;
using System.Net.Sockets;
using System.Text;

namespace DapperLantern.App.Tests;

/// <summary>A mail server of a few lines: takes every letter, or answers as it is told.</summary>
internal sealed class SmallMailServer : IAsyncDisposable
{
    private readonly TcpListener _listener = new(IPAddress.Loopback, 0);
    private readonly CancellationTokenSource _stop = new();
    private readonly Task _serving;

    public SmallMailServer()
    {
        _listener.Start();
        _serving = Serve();
    }

    public string Greeting { get; init; } = "220 fjell.example";
    public string AnswerToRecipient { get; init; } = "250 Fine";
    public string AnswerToLetter { get; init; } = "250 2.0.0 kept as 4711";
    public int Port => ((IPEndPoint)_listener.LocalEndpoint).Port;
    public ConcurrentBag<string> Letters { get; } = [];

    private async Task Serve()
    {
        try
        {
            while (true)
                await Speak(await _listener.AcceptTcpClientAsync(_stop.Token));
        }
        catch (OperationCanceledException) { }
    }

    private async Task Speak(TcpClient client)
    {
        using var spoken = client;
        await using var stream = client.GetStream();
        using var reader = new StreamReader(stream, Encoding.ASCII);
        await using var writer = new StreamWriter(stream, Encoding.ASCII) { NewLine = "\r\n", AutoFlush = true };
        await writer.WriteLineAsync(Greeting);
        while (await reader.ReadLineAsync(_stop.Token) is { } line)
        {
            if (line.StartsWith("DATA", StringComparison.Ordinal))
            {
                await writer.WriteLineAsync("354 Go on");
                var letter = new StringBuilder();
                while (await reader.ReadLineAsync(_stop.Token) is { } said && said != ".")
                    letter.AppendLine(said);
                Letters.Add(letter.ToString());
                await writer.WriteLineAsync(AnswerToLetter);
            }
            else
                await writer.WriteLineAsync(line.StartsWith("RCPT", StringComparison.Ordinal) ? AnswerToRecipient : "250 Fine");
            if (line.StartsWith("QUIT", StringComparison.Ordinal))
                return;
        }
    }

    public async ValueTask DisposeAsync()
    {
        await _stop.CancelAsync();
        // Before the door is shut: one who is on the way back to it would find it shut.
        await _serving;
        _listener.Stop();
        _stop.Dispose();
    }
}
