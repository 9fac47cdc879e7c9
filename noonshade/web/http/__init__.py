"""What all routes share: security, problem documents, routing and the OpenAPI document."""
