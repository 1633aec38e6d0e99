package tender.service;

import io.javalin.Javalin;
import io.javalin.http.Context;
import java.time.Duration;
import java.util.List;
import tender.api.Problem;
import tender.api.ProblemCode;
import tender.service.event.LiveEvents;
import tender.service.http.Gate;
import tender.service.http.Headers;
import tender.service.http.HealthChecks;
import tender.service.http.Json;
import tender.service.http.Listening;
import tender.service.http.Pages;
import tender.service.http.Problems;
import tender.service.http.Route;
import tender.service.metrics.Metrics;
import tender.service.node.Node;

/** The listener of console and API. */
final class ConsoleListener implements AutoCloseable {
    private static final String BEGAN = "tender.began";

    private final Javalin web;
    private final Metrics metrics;
    private volatile boolean draining;

    ConsoleListener(Node node, List<Route> routes, Gate gate, LiveEvents events) {
        this.metrics = node.metrics();
        HealthChecks checks = new HealthChecks(node.db(), () -> draining);
        this.web = Javalin.create(config -> {
            config.startup.showJavalinBanner = false;
            config.startup.showOldJavalinVersionWarning = false;
            Listening.console(config, node.settings(), gate);
            config.routes.before(context -> {
                context.attribute(BEGAN, System.nanoTime());
                Headers.put(context, gate.isHttps());
            });
            config.routes.after(this::measure);
            config.routes.get("/health/live", checks::live);
            config.routes.get("/health/ready", checks::ready);
            gate.register(
                    config.routes,
                    routes.stream().filter(r -> r != LiveEvents.ROUTE).toList());
            gate.stream(config.routes, LiveEvents.ROUTE, events::opened);
            config.routes.get("/assets/{file}", context -> Pages.send(context, "/assets/" + context.pathParam("file")));
            config.routes.get("/", context -> Pages.send(context, "/index.html"));
            config.routes.get("/<page>", ConsoleListener::page);
            config.routes.exception(Exception.class, Problems::answer);
        });
    }

    /** Pages of the console are told apart by the browser. */
    private static void page(Context context) {
        if (context.path().startsWith("/api/")) {
            context.status(404)
                    .contentType("application/problem+json")
                    .result(Json.write(Problem.of(ProblemCode.NOT_FOUND, "there is nothing at this path", "")));
        } else {
            Pages.send(context, "/index.html");
        }
    }

    private void measure(Context context) {
        String route = context.attribute(Gate.ROUTE);
        Long began = context.attribute(BEGAN);
        if (route != null && began != null) {
            metrics.request(
                    context.method().name(), route, context.statusCode(), Duration.ofNanos(System.nanoTime() - began));
        }
    }

    void start() {
        web.start();
    }

    int port() {
        return web.port();
    }

    /** Says that it is not ready any more; requests are still answered. */
    void drain() {
        draining = true;
    }

    @Override
    public void close() {
        web.stop();
    }
}
