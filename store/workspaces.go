package store

import (
	"context"
	"strings"
	"time"
)

// A Workspace of a file. Everything that is kept but users and their sessions belongs to
// one.
type Workspace struct {
	ID      uint
	Name    string
	Created time.Time
}

// Workspaces returns all workspaces of the file, the first first.
func (d *disk) Workspaces(ctx context.Context) ([]Workspace, error) {
	var list []Workspace
	return list, found(d.main.WithContext(ctx).Order("id").Find(&list).Error, "listing the workspaces")
}

// AddWorkspace makes an empty workspace in the file.
func (d *disk) AddWorkspace(ctx context.Context, name string) (*Store, error) {
	w := Workspace{Name: strings.TrimSpace(name), Created: now()}
	if err := d.main.WithContext(ctx).Create(&w).Error; err != nil {
		return nil, found(err, "making the workspace %q", name)
	}
	return d.workspace(WorkspaceID(w.ID)), nil
}

// In returns another workspace of the file.
func (d *disk) In(ctx context.Context, workspace WorkspaceID) (*Store, error) {
	var w Workspace
	if err := d.main.WithContext(ctx).Take(&w, uint(workspace)).Error; err != nil {
		return nil, found(err, "the workspace %d", workspace)
	}
	return d.workspace(WorkspaceID(w.ID)), nil
}
