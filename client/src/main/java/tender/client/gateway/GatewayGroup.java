package tender.client.gateway;

import java.util.List;
import tender.client.command.CommandGroup;

/** Sites, gateways, device descriptions and routes: the commands. */
public final class GatewayGroup {
    public static final List<CommandGroup> ALL = List.of(
            new CommandGroup(
                    "site",
                    "Sites and their networks.",
                    List.of(
                            SiteCommands.Add.class,
                            SiteCommands.Ls.class,
                            SiteCommands.Show.class,
                            SiteCommands.Set.class,
                            SiteCommands.Remove.class)),
            new CommandGroup(
                    "gateway",
                    "Gateways: devices that accept VPN connections.",
                    List.of(
                            GatewayAddCommand.class,
                            GatewayCommands.Accept.class,
                            GatewayCommands.Ls.class,
                            GatewayCommands.Show.class,
                            GatewayCommands.Read.class,
                            GatewaySetCommand.class,
                            GatewayCommands.Sync.class,
                            GatewayFactsCommand.class,
                            GatewayCommands.Drifted.class,
                            GatewayCommands.Log.class,
                            GatewayCertificateCommand.class,
                            GatewayLoadCommand.class,
                            GatewayListenerCommand.class,
                            GatewayRecogniseCommand.class,
                            GatewayCommands.Remove.class)),
            new CommandGroup("route", "Routes from a device to a host inside.", List.of(RouteCommands.Walk.class)),
            new CommandGroup(
                    "description",
                    "Device descriptions: how each kind of device is read and changed.",
                    List.of(
                            DescriptionCommands.Ls.class,
                            DescriptionCommands.Show.class,
                            DescriptionCommands.Put.class,
                            DescriptionCommands.Check.class,
                            DescriptionCommands.Approve.class,
                            DescriptionCommands.Remove.class)));

    private GatewayGroup() {}
}
