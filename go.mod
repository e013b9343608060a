module grapnel

go 1.26
