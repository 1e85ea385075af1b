using System.Net;
using System.Net.Sockets;

namespace DapperLantern.Tests.Shared;

public static class Ports
{
    /// <summary>A port that nobody listens on now.</summary>
    public static int Free()
    {
        using var listener = new TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        return ((IPEndPoint)listener.LocalEndpoint).Port;
    }
}
