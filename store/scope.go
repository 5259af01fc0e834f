package store

import (
	"context"
	"errors"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
	"gorm.io/gorm/schema"
)

// A WorkspaceID says to which workspace a row belongs. A model with a field of this type is
// read, changed and deleted only within the workspace that a statement was made for, and
// created in it. A statement that was made for none fails.
type WorkspaceID uint

// First is the workspace that every file has.
const First WorkspaceID = 1

// errNoWorkspace says that a statement was not made by within.
var errNoWorkspace = errors.New("a statement is made for no workspace")

const workspaceSetting = "omphalos:workspace"

// within returns a database whose statements reach one workspace.
func within(ctx context.Context, db *gorm.DB, in WorkspaceID) *gorm.DB {
	return db.WithContext(ctx).Set(workspaceSetting, in).Session(&gorm.Session{})
}

// workspaceOf returns the workspace that a statement was made for, and tells the statement
// where it was made for none.
func workspaceOf(stmt *gorm.Statement) (WorkspaceID, bool) {
	in, _ := stmt.Get(workspaceSetting)
	id, _ := in.(WorkspaceID)
	if id == 0 {
		_ = stmt.AddError(errNoWorkspace)
	}
	return id, id != 0
}

// QueryClauses, UpdateClauses and DeleteClauses are how GORM asks a field's type what goes
// with every statement about its model.
func (WorkspaceID) QueryClauses(f *schema.Field) []clause.Interface {
	return []clause.Interface{fence{field: f}}
}

// UpdateClauses is as QueryClauses.
func (WorkspaceID) UpdateClauses(f *schema.Field) []clause.Interface {
	return []clause.Interface{fence{field: f}}
}

// DeleteClauses is as QueryClauses.
func (WorkspaceID) DeleteClauses(f *schema.Field) []clause.Interface {
	return []clause.Interface{fence{field: f}}
}

// CreateClauses puts new rows into the workspace of their statement, whatever they say.
func (WorkspaceID) CreateClauses(f *schema.Field) []clause.Interface {
	return []clause.Interface{settler{fence{field: f}}}
}

// A fence keeps a statement within its workspace.
type fence struct{ field *schema.Field }

func (fence) Name() string { return "" }

func (fence) Build(clause.Builder) {}

func (fence) MergeClause(*clause.Clause) {}

// ModifyStatement adds the condition, once, beside all others.
func (f fence) ModifyStatement(stmt *gorm.Statement) {
	const done = "omphalos:fenced"
	if _, already := stmt.Clauses[done]; already {
		return
	}
	in, known := workspaceOf(stmt)
	if !known {
		return
	}
	if c, ok := stmt.Clauses["WHERE"]; ok {
		if where, ok := c.Expression.(clause.Where); ok && len(where.Exprs) > 0 {
			where.Exprs = []clause.Expression{clause.And(where.Exprs...)} // or a condition with “or” would reach beyond
			c.Expression = where
			stmt.Clauses["WHERE"] = c
		}
	}
	stmt.AddClause(clause.Where{Exprs: []clause.Expression{
		clause.Eq{Column: clause.Column{Table: clause.CurrentTable, Name: f.field.DBName}, Value: in}}})
	stmt.Clauses[done] = clause.Clause{}
}

// A settler is a fence for rows that are not there yet.
type settler struct{ fence }

// ModifyStatement sets the field of every row.
func (f settler) ModifyStatement(stmt *gorm.Statement) {
	in, known := workspaceOf(stmt)
	if !known {
		return
	}
	stmt.SetColumn(f.field.DBName, in, true)
}
