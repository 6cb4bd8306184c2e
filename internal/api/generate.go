package api

//go:generate go tool oapi-codegen -config ../../api/config.yaml ../../api/openapi.yaml
