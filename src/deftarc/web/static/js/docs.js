/* global SwaggerUIBundle */
SwaggerUIBundle({ url: "/openapi.json", dom_id: "#api", validatorUrl: null });
