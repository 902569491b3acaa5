module mivlet

go 1.26.0

require (
	github.com/PuerkitoBio/goquery v1.13.0
	github.com/bep/imagemeta v1.0.1
	github.com/gabriel-vasile/mimetype v1.4.16
	github.com/microcosm-cc/bluemonday v1.0.27
	github.com/mozillazg/go-unidecode v0.2.0
	github.com/stretchr/testify v1.12.1
	github.com/yuin/goldmark v1.4.13
	golang.org/x/image v0.47.0
	pgregory.net/rapid v1.3.0
)

require (
	github.com/BurntSushi/toml v1.4.1-0.20240526193622-a339e1f7089c // indirect
	github.com/andybalholm/cascadia v1.3.4 // indirect
	github.com/aymerick/douceur v0.2.0 // indirect
	github.com/gorilla/css v1.0.1 // indirect
	go.yaml.in/yaml/v3 v3.0.5 // indirect
	golang.org/x/exp/typeparams v0.0.0-20231108232855-2478ac86f678 // indirect
	golang.org/x/mod v0.41.0 // indirect
	golang.org/x/net v0.59.0 // indirect
	golang.org/x/sync v0.24.0 // indirect
	golang.org/x/text v0.43.0 // indirect
	golang.org/x/tools v0.51.0 // indirect
	honnef.co/go/tools v0.8.2 // indirect
)

tool honnef.co/go/tools/cmd/staticcheck
