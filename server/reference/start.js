/* Starts the viewer of the API's description; what a signed-in person tries is sent as the
   interface would send it. */

async function withToken(request) {
  if (["GET", "HEAD"].includes(request.method ?? "GET")) return request;
  const session = await (await fetch("/api/session")).json();
  request.headers["X-CSRFToken"] = session.csrf_token;
  return request;
}

globalThis.SwaggerUIBundle({
  url: "/api/openapi.json",
  dom_id: "#description",
  deepLinking: true,
  docExpansion: "none",
  filter: true,
  requestInterceptor: withToken,
});
