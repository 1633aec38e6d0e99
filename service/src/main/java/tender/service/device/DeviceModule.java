package tender.service.device;

import java.net.UnknownHostException;
import java.util.List;
import java.util.Map;
import tender.io.gateway.CallableAddresses;
import tender.io.gateway.CallableNames;
import tender.io.gateway.FileConnector;
import tender.io.gateway.HttpsConnector;
import tender.io.gateway.ManualConnector;
import tender.io.gateway.SshConnector;
import tender.io.names.DnsNameService;
import tender.io.names.NameService;
import tender.service.http.Route;
import tender.service.node.Node;
import tender.service.node.NodeModule;
import tender.store.office.Gateways;
import tender.store.office.GivenFiles;

/** How gateways are reached: connectors, descriptions of devices, management connections. */
public final class DeviceModule implements NodeModule {
    private final Node node;
    private final NameService names;
    private final Gateways gateways;
    private final GivenFiles given;
    private final DeviceDescriptions descriptions;
    private final Connections connections;
    private final Recognising recognising;

    /** @throws UnknownHostException where the name server that is set has no address */
    public DeviceModule(Node node) throws UnknownHostException {
        this.node = node;
        CallableAddresses callable = new CallableAddresses(node.settings().callableLocal());
        this.names = new CallableNames(new DnsNameService(node.settings().resolver()), callable);
        this.gateways = new Gateways(node.cipher());
        this.given = new GivenFiles(node.cipher());
        this.descriptions = new DeviceDescriptions(
                node.db(),
                Map.of(
                        "ssh",
                        new SshConnector(names, callable),
                        "https",
                        new HttpsConnector(names, callable),
                        "manual",
                        new ManualConnector(),
                        "file",
                        new FileConnector(name -> node.db()
                                .inTransaction(tx -> given.of(tx, name))
                                .map(g -> new FileConnector.Files(g.files(), g.taken())))));
        this.connections = new Connections(node.db(), gateways, descriptions, node.metrics());
        this.recognising = new Recognising(descriptions, connections);
    }

    public NameService names() {
        return names;
    }

    public Gateways gateways() {
        return gateways;
    }

    public GivenFiles given() {
        return given;
    }

    public DeviceDescriptions descriptions() {
        return descriptions;
    }

    public Recognising recognising() {
        return recognising;
    }

    public Connections connections() {
        return connections;
    }

    @Override
    public List<Route> routes() {
        return new DescriptionRoutes(node.db(), gateways, descriptions, recognising).routes();
    }

    @Override
    public void close() {
        descriptions.close();
    }
}
