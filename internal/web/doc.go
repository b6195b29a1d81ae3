// Package web is the HTTP interface: routes, sign-in, live updates and the
// embedded page. It turns HTTP into calls of package work and back, and holds
// no rule of the job.
package web
