using System.Formats.Asn1;
using System.Net;
using System.Security.Cryptography;
using System.Security.Cryptography.X509Certificates;

namespace Zoltric.Web.People;

/// <summary>
/// A certificate authority of this workshop's own, made at the first start, and the server's certificate from it. The authority can vouch
/// for this machine's names and for private addresses only (name constraints, RFC 5280 4.2.1.10): who trusts it trusts it with nothing
/// else.
/// </summary>
public sealed class OwnAuthority
{
    private const string AuthorityFile = "authority.pfx",
        ServerFile = "server.pfx";

    /// <summary>A server's certificate of more than 398 days is refused by some phones; it is made anew a month before it ends.</summary>
    private const int ServerDays = 397,
        RenewedBefore = 30,
        AuthorityYears = 10;

    private const string ServerAuthentication = "1.3.6.1.5.5.7.3.1",
        NameConstraints = "2.5.29.30";

    /// <summary>Networks that nobody routes (RFC 1918, RFC 6598, RFC 3927, RFC 4193, RFC 4291) and the machine itself.</summary>
    private static readonly IPNetwork[] PrivateNetworks =
    [
        .. new[]
        {
            "10.0.0.0/8",
            "172.16.0.0/12",
            "192.168.0.0/16",
            "100.64.0.0/10",
            "169.254.0.0/16",
            "127.0.0.0/8",
            "fc00::/7",
            "fe80::/10",
            "::1/128",
        }.Select(IPNetwork.Parse),
    ];

    private readonly Lock _gate = new();
    private readonly DirectoryInfo _folder;
    private readonly IReadOnlyList<string> _names;
    private readonly Func<IReadOnlyList<IPAddress>> _addresses;
    private readonly TimeProvider _clock;
    private readonly X509Certificate2 _authority;
    private X509Certificate2? _server;
    private string _standsFor = "";

    /// <param name="folder">Made where it is not there; its owner's and nobody else's.</param>
    /// <param name="names">Names of this machine in the network.</param>
    /// <param name="addresses">Its addresses now; those that anybody could have are left out.</param>
    public OwnAuthority(string folder, IEnumerable<string> names, Func<IReadOnlyList<IPAddress>> addresses, TimeProvider clock)
    {
        _folder = Directory.CreateDirectory(folder);
        if (!OperatingSystem.IsWindows())
            _folder.UnixFileMode = UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute;
        _names = [.. names.Append("localhost").Select(n => n.ToLowerInvariant()).Distinct()];
        (_addresses, _clock) = (addresses, clock);
        var file = Path.Combine(_folder.FullName, AuthorityFile);
        if (!File.Exists(file))
            Keep(file, MakeAuthority());
        _authority = X509CertificateLoader.LoadPkcs12FromFile(file, null);
    }

    /// <summary>The authority's certificate, without its key, as phones take it in (DER).</summary>
    public byte[] Certificate => _authority.Export(X509ContentType.Cert);

    /// <summary>SHA-256 of it in pairs, to be compared by eye.</summary>
    public string Fingerprint =>
        string.Join(' ', _authority.GetCertHashString(HashAlgorithmName.SHA256).Chunk(4).Select(c => new string(c)));

    /// <summary>The server's certificate for its names and addresses of now.</summary>
    public X509Certificate2 ServerCertificate()
    {
        lock (_gate)
        {
            var now = _clock.GetUtcNow().UtcDateTime;
            List<IPAddress> addresses =
            [
                .. _addresses().Where(a => PrivateNetworks.Any(n => n.Contains(a))).Append(IPAddress.Loopback).Distinct(),
            ];
            var stands = string.Join(' ', [.. _names, .. addresses.Select(a => a.ToString()).Order(StringComparer.Ordinal)]);
            if (_server is not null && stands == _standsFor && now < _server.NotAfter.ToUniversalTime().AddDays(-RenewedBefore))
                return _server;
            // A connection may still be making use of the one before.
            _server = MakeServer(now, addresses);
            _standsFor = stands;
            return _server;
        }
    }

    private X509Certificate2 MakeAuthority()
    {
        using var key = ECDsa.Create(ECCurve.NamedCurves.nistP256);
        var request = new CertificateRequest($"CN=Zoltric workshop {_names[0]}", key, HashAlgorithmName.SHA256);
        request.CertificateExtensions.Add(new X509BasicConstraintsExtension(true, true, 0, true));
        request.CertificateExtensions.Add(new X509KeyUsageExtension(X509KeyUsageFlags.KeyCertSign | X509KeyUsageFlags.CrlSign, true));
        request.CertificateExtensions.Add(new X509SubjectKeyIdentifierExtension(request.PublicKey, false));
        request.CertificateExtensions.Add(new X509Extension(NameConstraints, Permitted(), true));
        var now = _clock.GetUtcNow();
        return request.CreateSelfSigned(now.AddDays(-1), now.AddYears(AuthorityYears));
    }

    /// <summary>NameConstraints with permittedSubtrees: DNS names, then networks as address and mask.</summary>
    private byte[] Permitted()
    {
        var asn = new AsnWriter(AsnEncodingRules.DER);
        using (asn.PushSequence())
        using (asn.PushSequence(new Asn1Tag(TagClass.ContextSpecific, 0)))
        {
            foreach (var name in _names.Concat(["local", "home.arpa", "internal"]).Distinct())
                using (asn.PushSequence())
                    asn.WriteCharacterString(UniversalTagNumber.IA5String, name, new Asn1Tag(TagClass.ContextSpecific, 2));
            foreach (var network in PrivateNetworks)
                using (asn.PushSequence())
                    asn.WriteOctetString(
                        [.. network.BaseAddress.GetAddressBytes(), .. Mask(network)],
                        new Asn1Tag(TagClass.ContextSpecific, 7)
                    );
        }
        return asn.Encode();
    }

    private static byte[] Mask(IPNetwork network)
    {
        var mask = new byte[network.BaseAddress.GetAddressBytes().Length];
        for (var bit = 0; bit < network.PrefixLength; bit++)
            mask[bit / 8] |= (byte)(0x80 >> (bit % 8));
        return mask;
    }

    private X509Certificate2 MakeServer(DateTime now, IReadOnlyList<IPAddress> addresses)
    {
        using var key = ECDsa.Create(ECCurve.NamedCurves.nistP256);
        var request = new CertificateRequest($"CN={_names[0]}", key, HashAlgorithmName.SHA256);
        var names = new SubjectAlternativeNameBuilder();
        foreach (var name in _names)
        {
            names.AddDnsName(name);
            if (!name.Contains('.', StringComparison.Ordinal) && name != "localhost")
                names.AddDnsName(name + ".local");
        }
        foreach (var address in addresses)
            names.AddIpAddress(address);
        request.CertificateExtensions.Add(names.Build());
        request.CertificateExtensions.Add(new X509BasicConstraintsExtension(false, false, 0, true));
        request.CertificateExtensions.Add(new X509KeyUsageExtension(X509KeyUsageFlags.DigitalSignature, true));
        request.CertificateExtensions.Add(new X509EnhancedKeyUsageExtension([new Oid(ServerAuthentication)], false));
        request.CertificateExtensions.Add(new X509SubjectKeyIdentifierExtension(request.PublicKey, false));
        request.CertificateExtensions.Add(X509AuthorityKeyIdentifierExtension.CreateFromCertificate(_authority, true, false));
        var until =
            now.AddDays(ServerDays) is var end && end < _authority.NotAfter.ToUniversalTime() ? end : _authority.NotAfter.ToUniversalTime();
        using var signed = request.Create(_authority, now.AddDays(-1), until, RandomNumberGenerator.GetBytes(16));
        using var whole = signed.CopyWithPrivateKey(key);
        var file = Path.Combine(_folder.FullName, ServerFile);
        Keep(file, whole);
        return X509CertificateLoader.LoadPkcs12FromFile(file, null);
    }

    private static void Keep(string file, X509Certificate2 certificate)
    {
        File.WriteAllBytes(file, certificate.Export(X509ContentType.Pkcs12));
        if (!OperatingSystem.IsWindows())
            File.SetUnixFileMode(file, UnixFileMode.UserRead | UnixFileMode.UserWrite);
    }
}
